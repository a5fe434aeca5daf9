import { MessageChannel } from 'node:worker_threads';
import type { Analysis } from '@bold-compass/core/imports';
import { ApiError } from '../http/problems.ts';
import { startThreads } from '../threads/index.ts';
import type { Duplicates } from './analyse.ts';
import type { OnProgress } from './row.ts';
import type { Staged } from './stage.ts';
import type { Detected, ImportTask, Refusal } from './worker.ts';

interface Answers {
  detect: Detected;
  analyse: Analysis;
  duplicates: Duplicates;
  stage: Staged;
  fetch: Staged;
}

type TaskOf<Kind extends keyof Answers> = Omit<Extract<ImportTask, { kind: Kind }>, 'port' | 'kind'>;

/** The threads that read files, apart from those that answer readers. */
export class ImportCrew {
  private readonly threads = startThreads(import.meta.url, './import-worker.js', './worker.ts', 2);

  /** Runs a task. Aborting ends its thread at once: what it had open in the database is rolled back there. */
  async run<Kind extends keyof Answers>(
    kind: Kind,
    task: TaskOf<Kind>,
    onProgress?: OnProgress,
    signal?: AbortSignal,
  ): Promise<Answers[Kind]> {
    const { port1, port2 } = new MessageChannel();
    port1.on('message', (share: number) => onProgress?.(share));
    try {
      const answer = (await this.threads.run({ ...task, kind, port: port2 }, { transferList: [port2], signal })) as Answers[Kind] | Refusal;
      if ('refused' in answer) throw new ApiError(answer.refused.code, answer.refused.message);
      return answer;
    } finally {
      port1.close();
    }
  }

  close(): Promise<void> {
    return this.threads.destroy();
  }
}
