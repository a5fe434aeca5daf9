import type { Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';

interface Known {
  dataset: Dataset;
  store: Store;
}

/**
 * Stores by version, in one thread: a store arrives with every task, its columns shared, but lookups that were built for one
 * object (decoded dictionaries, codes of numbers) are found again only on that same object.
 */
const known = new Map<string, Known>();

/** The objects that stood for a version first; those of older versions of the dataset are forgotten. */
export function knownStore(dataset: Dataset, store: Store): Known {
  let entry = known.get(store.version);
  if (!entry) {
    const stale = store.version.replace(/@.*/, '@');
    for (const version of known.keys()) if (version.startsWith(stale)) known.delete(version);
    known.set(store.version, (entry = { dataset, store }));
  }
  return entry;
}
