import {
  listRecords,
  runQuery,
  type Query,
  type QueryResult,
  type RecordPage,
  type RecordQuery,
  type Store,
} from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { answering } from '../threads/index.ts';
import { knownStore } from './known-stores.ts';

/** What the engine's threads can be asked. */
export type EngineTask =
  { kind: 'query'; dataset: Dataset; store: Store; query: Query } | { kind: 'records'; dataset: Dataset; store: Store; query: RecordQuery };

/** Entry point of an engine thread. */
export default answering((task: EngineTask): Promise<QueryResult | RecordPage> => {
  const { dataset, store } = knownStore(task.dataset, task.store);
  return Promise.resolve(task.kind === 'query' ? runQuery(dataset, store, task.query) : listRecords(dataset, store, task.query));
});
