import { MessageChannel } from 'node:worker_threads';
import type { Analysis } from '@bold-compass/core/imports';
import { Threads } from '../threads/index.ts';
import type { Duplicates } from './analyse.ts';
import type { Fetched } from './fetch.ts';
import type { OnProgress } from './row.ts';
import type { Staged } from './stage.ts';
import type { Detected, ImportTask } from './worker.ts';

interface Answers {
  detect: Detected;
  analyse: Analysis;
  duplicates: Duplicates;
  stage: Staged;
  fetch: Fetched;
}

type TaskOf<Kind extends keyof Answers> = Omit<Extract<ImportTask, { kind: Kind }>, 'port' | 'kind'>;

const FILES_AT_ONCE = 2;

/** The threads that read files and queries, apart from those that answer readers. */
export class ImportThreads {
  private readonly threads = new Threads<ImportTask>(import.meta.url, './import-worker.js', './worker.ts', FILES_AT_ONCE);

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
      return await this.threads.run<Answers[Kind]>({ ...task, kind, port: port2 } as unknown as ImportTask, {
        transferList: [port2],
        signal,
      });
    } finally {
      port1.close();
    }
  }

  close(): Promise<void> {
    return this.threads.close();
  }
}
