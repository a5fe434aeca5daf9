import type { Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';

interface Known {
  dataset: Dataset;
  store: Store;
}

interface Entry extends Known {
  /** The dataset with measures of reports, by these. */
  withMeasures: Map<string, Dataset>;
}

/** As many ways of measuring are remembered for a version. */
const MOST_WAYS = 60;

/**
 * Stores by version, in one thread: a store arrives with every task, its columns shared, but lookups that were built for one
 * object (decoded dictionaries, codes of numbers) are found again only on that same object.
 */
const known = new Map<string, Entry>();

/** The objects that stood for a version first; those of older versions of the dataset are forgotten. */
export function knownStore(dataset: Dataset, store: Store): Known {
  let entry = known.get(store.version);
  if (!entry) {
    const stale = store.version.replace(/@.*/, '@');
    for (const version of known.keys()) if (version.startsWith(stale)) known.delete(version);
    known.set(store.version, (entry = { dataset, store, withMeasures: new Map() }));
  }
  return { store: entry.store, dataset: measured(entry, dataset) };
}

/** The object that stood first for the dataset with these measures and answers of prompts: a report may bring some of its own. */
function measured({ dataset, withMeasures }: Entry, { measures, promptValues }: Dataset): Dataset {
  const keyOf = (own: Pick<Dataset, 'measures' | 'promptValues'>): string => JSON.stringify([own.measures, own.promptValues]);
  const key = keyOf({ measures, promptValues });
  if (key === keyOf(dataset)) return dataset;
  let own = withMeasures.get(key);
  if (!own) {
    if (withMeasures.size >= MOST_WAYS) withMeasures.delete(withMeasures.keys().next().value!);
    withMeasures.set(key, (own = { ...dataset, measures, promptValues }));
  }
  return own;
}
