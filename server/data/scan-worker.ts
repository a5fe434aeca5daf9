import { countShared, type Counted, type Query, type RecordRange, type Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { answering } from '../threads/index.ts';
import { knownStore } from './known-stores.ts';

/** A run of records to be counted for another thread. */
export interface ScanTask {
  dataset: Dataset;
  store: Store;
  query: Query;
  range: RecordRange;
}

/** Entry point of a thread that counts a part of the records for another one. */
export default answering((task: ScanTask): Promise<Counted> => {
  const { dataset, store } = knownStore(task.dataset, task.store);
  return Promise.resolve(countShared(dataset, store, task.query, task.range));
});
