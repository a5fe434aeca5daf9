import type { Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { openClient, type ClientConfig } from '../database/index.ts';
import { answering } from '../threads/index.ts';
import { loadStore } from './loader.ts';
import { readSnapshot, writeSnapshot } from './snapshot.ts';

export interface LoadTask {
  /** Connects as who may read imported tables and nothing else. */
  reader: ClientConfig;
  dataset: Dataset;
  version: string;
  /** File of the snapshot; null keeps none. */
  snapshot: string | null;
}

/** Entry point of a loading thread: columns from the snapshot, or else from the database. */
export default answering(async ({ reader, dataset, version, snapshot }: LoadTask): Promise<Store> => {
  const kept = snapshot ? await readSnapshot(snapshot) : null;
  if (kept) return { ...kept, version };
  const client = await openClient(reader);
  try {
    const store = await loadStore(client, dataset, version);
    // Snapshots only make the next start faster: a full disk is no reason not to answer.
    if (snapshot) await writeSnapshot(snapshot, store).catch(() => undefined);
    return store;
  } finally {
    await client.end().catch(() => undefined);
  }
});
