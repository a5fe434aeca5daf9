import { fieldPlace, fieldsOf, type Dataset, type Dimension, type Fact, type Filter } from '../model/index.ts';
import { derivedOfStore, type Store } from './columns.ts';
import { runQuery } from './run.ts';

/** Each row refers to itself. */
function identity(rows: number): Int32Array {
  const references = new Int32Array(rows);
  for (let row = 0; row < rows; row++) references[row] = row + 1;
  return references;
}

interface DimensionView {
  dataset: Dataset;
  store: Store;
  fact: Fact;
}

/** A dimension seen as a fact with one record per row (per day, for the calendar), so that queries can be asked of it. */
function asFact(dataset: Dataset, store: Store, dimension: Dimension): DimensionView {
  // What is coded for a store is found again only on the same object.
  return derivedOfStore(store, `rows of ${dimension.name}`, () => createView(dataset, store, dimension));
}

function createView(dataset: Dataset, store: Store, dimension: Dimension): DimensionView {
  const rows = dimension.kind === 'calendar' ? store.calendar.days : (store.dimensions[dimension.name]?.rows ?? 0);
  const fact: Fact = {
    name: `rows of ${dimension.name}`,
    label: dimension.label,
    record: { one: 'row', many: 'rows' },
    table: '',
    links: [{ dimension: dimension.name, column: '' }],
    fields: [],
    filter: null,
  };
  return {
    fact,
    dataset: { ...dataset, facts: [fact] },
    store: { ...store, facts: { [fact.name]: { rows, columns: {}, links: { [dimension.name]: identity(rows) } } } },
  };
}

/** The part of a filter that speaks of one dimension only, of those conditions that must all hold. */
function partFor(dataset: Dataset, dimension: Dimension, filter: Filter | null): Filter | null {
  if (!filter) return null;
  const items = (filter.op === 'and' ? filter.items : [filter]).filter((item) =>
    fieldsOf(item).every((name) => {
      const place = fieldPlace(dataset, name);
      return place.dimension?.name === dimension.name;
    }),
  );
  return items.length > 0 ? { op: 'and', items } : null;
}

/**
 * All combinations of members that exist in a dimension under the conditions that speak of it, with or without records
 * in any fact. `levels` must be of one dimension; null where they are not.
 */
export function axisMembers(dataset: Dataset, store: Store, levels: string[], filter: Filter | null): (string | null)[][] | null {
  const places = levels.map((level) => fieldPlace(dataset, level));
  const dimensions = new Set(places.map((place) => place.dimension));
  const [dimension] = dimensions;
  if (dimensions.size !== 1 || !dimension) return null;
  const view = asFact(dataset, store, dimension);
  const set = levels.map((_, position) => position);
  const result = runQuery(view.dataset, view.store, {
    fact: view.fact.name,
    filter: partFor(dataset, dimension, filter),
    levels,
    sets: [set],
    aggregates: [],
  });
  const [groups] = result.sets;
  return Array.from({ length: groups.size }, (_, group) =>
    groups.keys.map((codes, level) => (codes[group] === 0 ? null : result.members[level][codes[group] - 1])),
  );
}
