import { fieldPlace, type Dataset } from '../model/index.ts';
import { codedColumn, derivedOfStore, labelColumnName, type Store, type Table } from './columns.ts';

/** The table of a level's dimension, where the store holds it. */
function tableOfLevel(dataset: Dataset, store: Store, field: string): { name: string; table: Table } | null {
  const place = fieldPlace(dataset, field);
  const table = place.kind === 'level' ? store.dimensions[place.dimension.name] : undefined;
  return table ? { name: place.name, table } : null;
}

/** The words for a level's members, where a column of their own holds them; null where members are their own words. */
export function memberLabels(dataset: Dataset, store: Store, field: string): ReadonlyMap<string, string> | null {
  const found = tableOfLevel(dataset, store, field);
  const column = found?.table.columns[labelColumnName(found.name)];
  if (!found || !column) return null;
  return derivedOfStore(store, `labels of ${found.name}`, () => {
    const labels = new Map<string, string>();
    const keys = codedColumn(found.table.columns[found.name]);
    const words = codedColumn(column);
    keys.codes.forEach((code, row) => {
      if (code > 0 && words.codes[row] > 0) labels.set(keys.members[code - 1], words.members[words.codes[row] - 1]);
    });
    return labels;
  });
}

/** The place of each member of a level by its smallest value of another field of the dimension; null for other fields. */
export function memberPlaces(dataset: Dataset, store: Store, field: string, by: string): ReadonlyMap<string, number> | null {
  const found = tableOfLevel(dataset, store, field);
  const column = found?.table.columns[by];
  if (!found || !column) return null;
  return derivedOfStore(store, `places of ${found.name} by ${by}`, () => {
    const order = new Map<string, number>();
    const { codes, members } = codedColumn(found.table.columns[found.name]);
    const places = codedColumn(column);
    for (let row = 0; row < codes.length; row++) {
      if (codes[row] === 0 || places.codes[row] === 0) continue;
      const member = members[codes[row] - 1];
      order.set(member, Math.min(order.get(member) ?? Infinity, places.codes[row]));
    }
    return order;
  });
}
