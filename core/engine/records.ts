import { factNamed, fieldPlace, type Dataset, type Fact, type Filter, type PromptValues } from '../model/index.ts';
import { codedColumn, isMissing, labelColumnName, numberText, type Column, type Store } from './columns.ts';
import { compileConjuncts, holds } from './predicate.ts';
import { factTable, fieldSource } from './source.ts';

/** Asks for single records of a fact, a page at a time. */
export interface RecordQuery {
  fact: string;
  filter: Filter | null;
  columns: string[];
  order: { field: string; direction: 'asc' | 'desc' }[];
  offset: number;
  limit: number;
  /** As those of a query. */
  promptValues?: PromptValues;
  /** Columns at the end that give a level's member instead of the words for it. */
  keys?: string[];
}

export type RecordValue = string | number | boolean | null;

export interface RecordPage {
  /** How many records there are in all. */
  total: number;
  rows: RecordValue[][];
}

/** Record numbers that pass a filter, in stored order. */
function selectRecords(dataset: Dataset, store: Store, fact: Fact, filter: Filter | null): Int32Array {
  const { rows } = factTable(store, fact);
  const conditions = compileConjuncts(dataset, store, fact, filter);
  const kept = new Int32Array(rows);
  let count = 0;
  next: for (let row = 0; row < rows; row++) {
    for (const condition of conditions) {
      if (!holds(condition.kind === 'rows' ? condition.test(row) : condition.truth[condition.reference[row]])) continue next;
    }
    kept[count++] = row;
  }
  return kept.subarray(0, count);
}

interface Reader {
  /** Rank of each record's value in natural order; 0 is missing. */
  rank(row: number): number;
  value(row: number): RecordValue;
  /** The value as groupings tell it. */
  member(row: number): string | null;
}

function columnReader(column: Column, entry: (row: number) => number): Reader {
  const coded = (): { codes: Int32Array; members: string[] } => codedColumn(column);
  return {
    rank: (row) => {
      const index = entry(row);
      return index < 0 ? 0 : coded().codes[index];
    },
    member(row) {
      const index = entry(row);
      const code = index < 0 ? 0 : coded().codes[index];
      return code === 0 ? null : coded().members[code - 1];
    },
    value(row) {
      const index = entry(row);
      if (index < 0) return null;
      if (column.kind === 'text') {
        const code = column.codes[index];
        return code === 0 ? null : coded().members[code - 1];
      }
      if (isMissing(column, index)) return null;
      const value = column.values[index];
      if (column.type === 'date') return numberText(column, value);
      return column.type === 'boolean' ? value === 1 : value / 10 ** column.scale;
    },
  };
}

/** Reads a field of records; a level that has words for its members gives the words, unless the member itself is asked for. */
function reader(dataset: Dataset, store: Store, fact: Fact, name: string, asMember = false): Reader {
  const source = fieldSource(dataset, store, fact, name);
  if (source.kind === 'own') return columnReader(source.column, (row) => row);
  const { reference } = source;
  if (source.kind === 'linked') {
    const place = fieldPlace(dataset, name);
    const labels = !asMember ? source.table.columns[labelColumnName(place.name)] : undefined;
    return columnReader(labels ?? source.column, (row) => reference[row] - 1);
  }
  const { codes, members } = source.coded;
  const code = (row: number): number => (reference[row] === 0 ? 0 : codes[reference[row] - 1]);
  const member = (row: number): string | null => (code(row) === 0 ? null : members[code(row) - 1]);
  return { rank: code, value: member, member };
}

/**
 * Sorts record numbers by one field, keeping the order they had among equals: rank and position make one number each,
 * which a typed array sorts without a comparison function. Missing values come last either way.
 */
function sortBy(records: Int32Array, rank: (row: number) => number, descending: boolean): Int32Array {
  const count = records.length;
  const keys = new Float64Array(count);
  let highest = 0;
  for (let k = 0; k < count; k++) highest = Math.max(highest, (keys[k] = rank(records[k])));
  for (let k = 0; k < count; k++) {
    const place = keys[k] === 0 ? highest + 1 : descending ? highest - keys[k] : keys[k];
    keys[k] = place * count + k;
  }
  keys.sort();
  return Int32Array.from(keys, (key) => records[key % count]);
}

/** Orders that were calculated last, by store: leafing and scrolling ask for the same one again and again. */
const ordered = new WeakMap<Store, Map<string, Int32Array>>();
const MOST_ORDERED = 4;

function orderedRecords(dataset: Dataset, store: Store, fact: Fact, query: RecordQuery): Int32Array {
  const key = JSON.stringify([fact.name, query.filter, query.order]);
  let known = ordered.get(store);
  if (!known) ordered.set(store, (known = new Map()));
  let records = known.get(key);
  if (!records) {
    records = selectRecords(dataset, store, fact, query.filter).slice();
    for (const { field, direction } of [...query.order].reverse()) {
      records = sortBy(records, reader(dataset, store, fact, field).rank, direction === 'desc');
    }
  }
  // The one used last is the last to go.
  known.delete(key);
  known.set(key, records);
  if (known.size > MOST_ORDERED) known.delete(known.keys().next().value!);
  return records;
}

/** A page of records in the order asked for. Throws QueryError for a field the fact does not know. */
export function listRecords(dataset: Dataset, store: Store, query: RecordQuery): RecordPage {
  const fact = factNamed(dataset, query.fact);
  const records = orderedRecords(dataset, store, fact, query);
  const plain = query.columns.length - (query.keys?.length ?? 0);
  const readers = query.columns.map((column, index) => {
    const one = reader(dataset, store, fact, column, index >= plain);
    return index < plain ? one.value : one.member;
  });
  const page = Array.from(records.subarray(query.offset, query.offset + query.limit));
  return { total: records.length, rows: page.map((row) => readers.map((read) => read(row))) };
}
