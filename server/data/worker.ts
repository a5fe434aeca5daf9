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
import pg from 'pg';
import { loadStore } from './loader.ts';
import { readSnapshot, writeSnapshot } from './snapshot.ts';

/** What the engine's threads can be asked. */
export type Task =
  | { kind: 'load'; url: string; dataset: Dataset; version: string; snapshot: string | null }
  | { kind: 'query'; dataset: Dataset; store: Store; query: Query }
  | { kind: 'records'; dataset: Dataset; store: Store; query: RecordQuery };

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
export default async function run(task: Task): Promise<Store | QueryResult | RecordPage> {
  if (task.kind === 'load') {
    const kept = task.snapshot ? await readSnapshot(task.snapshot) : null;
    if (kept) return { ...kept, version: task.version };
    const client = new pg.Client({ connectionString: task.url });
    await client.connect();
    try {
      const store = await loadStore(client, task.dataset, task.version);
      if (task.snapshot) await writeSnapshot(task.snapshot, store);
      return store;
    } finally {
      await client.end();
    }
  }
  const { dataset, store } = remembered(task.dataset, task.store);
  return task.kind === 'query' ? runQuery(dataset, store, task.query) : listRecords(dataset, store, task.query);
}
