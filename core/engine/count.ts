import { BLOCK } from './compiled.ts';
import { denseSelector, sparseSelector, type BlockSelector, type Grouping, type SparseSelector } from './grouping.ts';
import type { Tally } from './aggregates.ts';
import { countGroups, foldLeast, foldMost, foldSum, gather } from './kernels.ts';
import { SumLanes } from './lanes.ts';
import { accumulatorFor, type Accumulator, type Stream } from './streams.ts';

/** A run of records, from the first to the one before `to`. */
export interface RecordRange {
  from: number;
  to: number;
}

/** Values of a stream that are kept, in the order of their records. */
export interface CountedValues {
  values: Float64Array;
  /** The position of each value's group. */
  groups: Int32Array;
}

/** What was counted of a stream, group by group. What no aggregate needs is empty. */
export interface CountedStream {
  /** Whether every record has a value: then the records of a group are its count. */
  countsRecords: boolean;
  tally: Tally;
  kept: CountedValues | null;
}

/** The finest groups that have records, with everything counted for them. */
export interface Counted {
  /** Combined group number of each group, telling its members. */
  ids: Float64Array;
  records: Float64Array;
  streams: CountedStream[];
}

/** Something that counts records, and takes in what was counted of later ones. */
interface RangeCount {
  /** What is counted so far; over shared memory, which threads hand to each other without copying, where that is asked for. */
  counted(memory?: 'own' | 'shared'): Counted;
  /** Adds what was counted of the records that follow. */
  absorb(later: Counted): void;
}

interface CountedQuery {
  grouping: Grouping;
  streams: Stream[];
  tests: ((row: number) => number)[];
  maxGroups: number;
}

/** Counts a run of records at the finest grain. Throws TooManyGroupsError past `maxGroups`. */
export function countRange(query: CountedQuery, range: RecordRange): RangeCount {
  return query.grouping.dense ? new DenseCount(query, range) : new SparseCount(query, range);
}

function scan({ from, to }: RecordRange, selector: BlockSelector, each: (count: number) => void): void {
  for (let start = from; start < to; start += BLOCK) {
    const count = selector.select(start, Math.min(start + BLOCK, to));
    if (count > 0) each(count);
  }
}

/** The group numbers index arrays directly. */
class DenseCount implements RangeCount {
  private readonly records: Float64Array;
  private readonly accumulators: Accumulator[];

  constructor({ grouping, streams, tests }: CountedQuery, range: RecordRange) {
    const records = (this.records = new Float64Array(grouping.groups));
    const accumulators = (this.accumulators = streams.map((stream) => accumulatorFor(stream, grouping.groups)));
    const summed = accumulators.filter(({ summed: column }) => column !== null);
    const others = accumulators.filter(({ summed: column }) => column === null);
    const lanes = new SumLanes(
      summed.flatMap(({ summed: column }) => column ?? []),
      grouping.groups,
    );
    const selector = denseSelector(grouping, tests, BLOCK, lanes.counts && others.length === 0);
    scan(range, selector, (count) => {
      if (!lanes.counts) countGroups(records, selector.groups, count);
      lanes.add(selector, count);
      for (const accumulator of others) accumulator.add(selector, count);
    });
    lanes.write(
      records,
      summed.map(({ tally }) => tally.sum),
    );
  }

  counted(memory?: 'own' | 'shared'): Counted {
    const { records, accumulators } = this;
    let found = 0;
    for (let group = 0; group < records.length; group++) if (records[group] > 0) found++;
    const slots = new Int32Array(found);
    found = 0;
    for (let group = 0; group < records.length; group++) if (records[group] > 0) slots[found++] = group;
    return countedGroups(slots, slots, records, accumulators, memory);
  }

  absorb(later: Counted): void {
    fold(this.records, this.accumulators, later, Int32Array.from(later.ids));
  }
}

/** Groups are numbered as they come. */
class SparseCount implements RangeCount {
  private capacity = BLOCK * 4;
  private records = new Float64Array(this.capacity);
  private readonly accumulators: Accumulator[];
  private readonly selector: SparseSelector;

  constructor({ grouping, streams, tests, maxGroups }: CountedQuery, range: RecordRange) {
    const selector = (this.selector = sparseSelector(grouping, tests, BLOCK, maxGroups));
    const accumulators = (this.accumulators = streams.map((stream) => accumulatorFor(stream, this.capacity)));
    scan(range, selector, (count) => {
      this.makeRoom();
      countGroups(this.records, selector.groups, count);
      for (const accumulator of accumulators) accumulator.add(selector, count);
    });
  }

  private makeRoom(): void {
    while (this.selector.found.length > this.capacity) {
      this.capacity *= 2;
      const larger = new Float64Array(this.capacity);
      larger.set(this.records);
      this.records = larger;
      this.accumulators.forEach((accumulator) => accumulator.grow(this.capacity));
    }
  }

  counted(memory?: 'own' | 'shared'): Counted {
    const { found } = this.selector;
    const slots = Int32Array.from(found, (_, slot) => slot);
    return countedGroups(found, slots, this.records, this.accumulators, memory);
  }

  absorb(later: Counted): void {
    const groups = Int32Array.from(later.ids, (id) => this.selector.numberOf(id));
    this.makeRoom();
    fold(this.records, this.accumulators, later, groups);
  }
}

/** Gathers what was counted of some groups, which stand at `slots` of the accumulators. */
function countedGroups(
  ids: ArrayLike<number>,
  slots: Int32Array,
  records: Float64Array,
  accumulators: Accumulator[],
  memory: 'own' | 'shared' = 'own',
): Counted {
  const buffer = (bytes: number): ArrayBuffer | SharedArrayBuffer =>
    memory === 'shared' ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes);
  const floats = (length: number): Float64Array => new Float64Array(buffer(length * 8));
  const figures = (source: Float64Array): Float64Array => {
    const chosen = floats(source.length === 0 ? 0 : slots.length);
    gather(chosen, source, slots);
    return chosen;
  };
  const streams = accumulators.map(({ tally: { count, sum, min, max }, kept, countsRecords }): CountedStream => {
    const tally = { count: figures(count), sum: figures(sum), min: figures(min), max: figures(max) };
    if (!kept) return { countsRecords, tally, kept: null };
    const values = floats(kept.length);
    values.set(kept.values.subarray(0, kept.length));
    const groups = new Int32Array(buffer(kept.length * 4));
    const positionOf = new Int32Array(records.length);
    for (let position = 0; position < slots.length; position++) positionOf[slots[position]] = position;
    for (let k = 0; k < kept.length; k++) groups[k] = positionOf[kept.groups[k]];
    return { countsRecords, tally, kept: { values, groups } };
  });
  const numbers = floats(ids.length);
  numbers.set(ids);
  return { ids: numbers, records: figures(records), streams };
}

/** Adds later records to what is counted; `groups` says which group each of theirs is. */
function fold(records: Float64Array, accumulators: Accumulator[], later: Counted, groups: Int32Array): void {
  foldSum(records, groups, later.records);
  later.streams.forEach(({ tally: { count, sum, min, max }, kept }, index) => {
    const own = accumulators[index];
    foldSum(own.tally.count, groups, count);
    foldSum(own.tally.sum, groups, sum);
    foldLeast(own.tally.min, groups, min);
    foldMost(own.tally.max, groups, max);
    if (kept)
      own.kept!.push(
        kept.values,
        kept.groups.map((position) => groups[position]),
        kept.values.length,
      );
  });
}
