import type { Dataset, Fact } from '../model/index.ts';
import type { Store } from './columns.ts';
import { countUp, keepSelected, lookUp, lookUpMore, lookUpTwo, numberPairs } from './kernels.ts';
import { holds, type Condition } from './predicate.ts';
import { TooManyGroupsError } from './query.ts';
import { factTable, fieldLookup, type Lookup } from './source.ts';

/** The number of an entry that a condition leaves out. Left out by any part is left out: see `lookUpMore`. */
const LEFT_OUT = -1;
/** Up to this many possible groups, group numbers index arrays directly; fewer where there are few records. */
const mostDense = (records: number): number => Math.max(4096, Math.min(1 << 22, records * 4));

/**
 * All levels and conditions that look at the same linked table, as one lookup: from an entry of the table to the number
 * of its combination of members, or LEFT_OUT.
 */
export interface Part {
  reference: Int32Array;
  local: Int32Array;
  /** How many combinations of members occur. */
  size: number;
  /** Positions of the query's levels in this part. */
  levels: number[];
  /** Per level of the part: the member code of each combination. */
  codes: Int32Array[];
}

export interface Grouping {
  parts: Part[];
  strides: number[];
  /** Number of possible groups: the product of the parts' sizes. */
  groups: number;
  dense: boolean;
  members: string[][];
}

/** Numbers the distinct rows of several code columns in order of first use; returns each row's number and the codes. */
export function numberTuples(
  columns: Int32Array[],
  keep: (row: number) => boolean,
  rows: number,
): { local: Int32Array; size: number; codes: Int32Array[] } {
  const local = new Int32Array(rows).fill(LEFT_OUT);
  // One column at a time: (number so far, next code) pairs are numbered anew, so keys stay small integers.
  const kept = new Int32Array(rows);
  let count = 0;
  for (let row = 0; row < rows; row++) {
    if (!keep(row)) continue;
    local[row] = 0;
    kept[count++] = row;
  }
  const first = new Int32Array(count);
  let size = Math.min(count, 1);
  for (const column of columns) size = numberPairs(column, kept, count, local, first, Math.max(size, 1));
  const codes = columns.map((column) => {
    const own = new Int32Array(size);
    for (let number = 0; number < size; number++) own[number] = column[first[number]];
    return own;
  });
  return { local, size: Math.max(size, 1), codes };
}

/** Plans group numbers for the levels of a query, and further ones, under conditions on single tables. */
export function planGrouping(
  dataset: Dataset,
  store: Store,
  fact: Fact,
  levels: string[],
  conditions: Condition[],
  further: Lookup[] = [],
): Grouping {
  const lookups = [...levels.map((level) => fieldLookup(dataset, store, fact, level)), ...further];
  const byLink = new Map<string, { reference: Int32Array; levels: number[]; truths: Uint8Array[] }>();
  const linkOf = (id: string, reference: Int32Array): { levels: number[]; truths: Uint8Array[] } => {
    let link = byLink.get(id);
    if (!link) byLink.set(id, (link = { reference, levels: [], truths: [] }));
    return link;
  };
  lookups.forEach((lookup, position) => linkOf(lookup.id, lookup.reference).levels.push(position));
  for (const condition of conditions) {
    if (condition.kind === 'entries') linkOf(condition.link, condition.reference).truths.push(condition.truth);
  }
  const parts = [...byLink.values()].map((link): Part => {
    const columns = link.levels.map((position) => lookups[position].codes);
    const entries = columns[0]?.length ?? link.truths[0].length;
    const keep = (entry: number): boolean => link.truths.every((truth) => holds(truth[entry]));
    return { reference: link.reference, levels: link.levels, ...numberTuples(columns, keep, entries) };
  });
  const strides: number[] = [];
  let groups = 1;
  for (const part of parts) {
    strides.push(groups);
    groups *= part.size;
  }
  if (groups > Number.MAX_SAFE_INTEGER) throw new TooManyGroupsError(groups);
  return {
    parts,
    strides,
    groups,
    dense: groups <= mostDense(factTable(store, fact).rows),
    members: lookups.map((lookup: Lookup) => lookup.members),
  };
}

/** Gives each record of a block its group and leaves out those that a condition excludes. */
export interface BlockSelector {
  /** Selected record numbers and their groups, valid up to the count that `select` returns. */
  rows: Int32Array;
  groups: Int32Array;
  /** First selected record when all of a block follow each other, so that columns can be read straight through; else -1. */
  start: number;
  select(from: number, to: number): number;
}

/** Where more than this of the records is expected to count, those that do not are not worth picking out. */
const WORTH_TAKING_ALL = 0.4;

/**
 * Selects records when group numbers index arrays directly. `tests` are conditions that need the whole record. Where `takesAll`
 * is said, what takes the blocks knows that a record with the group -1 is left out, and may be handed all records of a block
 * with only their groups.
 */
export function denseSelector(grouping: Grouping, tests: ((row: number) => number)[], block: number, takesAll: boolean): BlockSelector {
  const rows = new Int32Array(block);
  const groups = new Int32Array(block);
  // Strides are multiplied into the lookups once, so that a record costs one addition a part.
  const parts = grouping.parts.map((part, index) => ({
    reference: part.reference,
    local: part.local.map((local) => (local < 0 ? LEFT_OUT : local * grouping.strides[index])),
    counting: part.local.reduce((sum, local) => sum + Number(local >= 0), 0) / part.local.length,
  }));
  const [first, second, ...more] = parts;
  const counting = parts.reduce((share, part) => share * part.counting, 1);
  const filters = counting < 1 || tests.length > 0;
  const passesAll = takesAll && tests.length === 0 && counting >= WORTH_TAKING_ALL;
  const selector: BlockSelector = {
    rows,
    groups,
    start: -1,
    select(from, to) {
      let count = to - from;
      if (!first) groups.fill(0, 0, count);
      else if (!second) lookUp(groups, first.local, first.reference, from, count);
      else lookUpTwo(groups, first.local, first.reference, second.local, second.reference, from, count);
      for (const { reference, local } of more) lookUpMore(groups, local, reference, from, count);
      if (passesAll) {
        selector.start = from;
        return count;
      }
      if (!filters) {
        selector.start = from;
        countUp(rows, from, count);
        return count;
      }
      count = keepSelected(groups, rows, from, count);
      for (const test of tests) {
        let kept = 0;
        for (let k = 0; k < count; k++) {
          if (!holds(test(rows[k]))) continue;
          groups[kept] = groups[k];
          rows[kept++] = rows[k];
        }
        count = kept;
      }
      return count;
    },
  };
  return selector;
}

/** Numbers the groups that occur, as they come. */
export interface SparseSelector extends BlockSelector {
  /** Combined group numbers in the order of their own. */
  found: number[];
  /** The own number of a group, by its combined one. Throws TooManyGroupsError past the limit. */
  numberOf(id: number): number;
}

/** Selects records when the possible groups are too many: those that occur are numbered as they come. */
export function sparseSelector(grouping: Grouping, tests: ((row: number) => number)[], block: number, limit: number): SparseSelector {
  const rows = new Int32Array(block);
  const groups = new Int32Array(block);
  const numbers = new Map<number, number>();
  const found: number[] = [];
  const { parts, strides } = grouping;
  const numberOf = (id: number): number => {
    let group = numbers.get(id);
    if (group === undefined) {
      group = found.length;
      if (group === limit) throw new TooManyGroupsError(limit);
      numbers.set(id, group);
      found.push(id);
    }
    return group;
  };
  return {
    ...{ rows, groups, found, numberOf },
    start: -1,
    select(from, to) {
      let kept = 0;
      next: for (let row = from; row < to; row++) {
        let key = 0;
        for (let p = 0; p < parts.length; p++) {
          const local = parts[p].local[parts[p].reference[row]];
          if (local < 0) continue next;
          key += local * strides[p];
        }
        for (const test of tests) if (!holds(test(row))) continue next;
        rows[kept] = row;
        groups[kept++] = numberOf(key);
      }
      return kept;
    },
  };
}
