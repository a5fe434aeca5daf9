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

/** What the engine's threads can be asked. */
export type EngineTask =
  { kind: 'query'; dataset: Dataset; store: Store; query: Query } | { kind: 'records'; dataset: Dataset; store: Store; query: RecordQuery };

/**
 * Stores by version: a store arrives with every task, its columns shared, but lookups that were built for one object
 * (decoded dictionaries, codes of numbers) are found again only on that same object.
 */
const known = new Map<string, { dataset: Dataset; store: Store }>();

function remembered(dataset: Dataset, store: Store): { dataset: Dataset; store: Store } {
  let entry = known.get(store.version);
  if (!entry) {
    const stale = store.version.replace(/@.*/, '@');
    for (const version of known.keys()) if (version.startsWith(stale)) known.delete(version);
    known.set(store.version, (entry = { dataset, store }));
  }
  return entry;
}

/** Entry point of an engine thread. */
export default answering((task: EngineTask): Promise<QueryResult | RecordPage> => {
  const { dataset, store } = remembered(task.dataset, task.store);
  return Promise.resolve(task.kind === 'query' ? runQuery(dataset, store, task.query) : listRecords(dataset, store, task.query));
});
