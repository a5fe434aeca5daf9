import type { MessagePort } from 'node:worker_threads';
import type { Analysis, ImportPlan, Reading } from '@bold-compass/core/imports';
import { answering } from '../threads/index.ts';
import { analyseFile, findDuplicates, type Duplicates } from './analyse.ts';
import type { OnProgress } from './row.ts';
import { detectReading } from './rows.ts';
import { fetchQuery, type FetchTask } from './fetch.ts';
import { stageFile, type Staged, type StagedColumn } from './stage.ts';

/** What the import threads can be asked. Each tells its progress over a port, as shares of 1. */
export type ImportTask = { port: MessagePort } & (
  | { kind: 'detect'; path: string; fileName: string }
  | { kind: 'analyse'; path: string; reading: Reading }
  | { kind: 'duplicates'; path: string; reading: Reading; key: number[] }
  | { kind: 'stage'; url: string; path: string; plan: ImportPlan; table: string; columns: StagedColumn[] }
  | ({ kind: 'fetch' } & FetchTask)
);

export type Detected = Awaited<ReturnType<typeof detectReading>>;

/** Not more often than a person can see. */
function throttled(port: MessagePort): OnProgress {
  let last = 0;
  return (share) => {
    const now = Date.now();
    if (now - last < 100) return;
    last = now;
    port.postMessage(share);
  };
}

/** Entry point of an import thread. */
export default answering(async (task: ImportTask): Promise<Detected | Analysis | Duplicates | Staged> => {
  const onProgress = throttled(task.port);
  try {
    switch (task.kind) {
      case 'detect':
        return await detectReading(task.path, task.fileName);
      case 'analyse':
        return await analyseFile(task.path, task.reading, onProgress);
      case 'duplicates':
        return await findDuplicates(task.path, task.reading, task.key, onProgress);
      case 'stage':
        return await stageFile(task.url, task.path, task.plan, task.table, task.columns, onProgress);
      case 'fetch':
        return await fetchQuery(task, onProgress);
    }
  } finally {
    task.port.close();
  }
});
