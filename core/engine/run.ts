import { factNamed, type Dataset } from '../model/index.ts';
import { aggregates, type HolisticAggregate, type Tally } from './aggregates.ts';
import type { Store } from './columns.ts';
import { BLOCK } from './expression.ts';
import { denseSelector, numberTuples, planGrouping, sparseSelector, type BlockSelector, type Grouping } from './grouping.ts';
import { addDigit, codesOfFirst, countGroups, foldSum, numberKeys, numberSparseKeys } from './kernels.ts';
import { compileConjuncts } from './predicate.ts';
import { refuseTooLarge, type AggregateValues, type GroupingSetResult, type Query, type QueryResult } from './query.ts';
import { factTable } from './source.ts';
import { accumulatorFor, planStreams, type Accumulator, type KeptValues, type PlannedAggregate, type Stream } from './streams.ts';

/** The finest groups that have records, with everything counted for them. */
interface Finest {
  /** Combined group number of each group, telling its members. */
  ids: Float64Array;
  /** Record count by the groups' own numbers. */
  records: Float64Array;
  /** The groups' own numbers: positions in the accumulators. */
  slots: Int32Array;
  accumulators: Accumulator[];
}

/**
 * The columnar runner: answers a query from columns in memory. Additive aggregates are counted once at the finest
 * grain and rolled up; the others are worked out from the records' values at each grain.
 * Throws QueryError where the query does not fit, TooManyGroupsError past `maxGroups`, CrosstabTooLargeError past
 * the query's bounds.
 */
export function runQuery(dataset: Dataset, store: Store, query: Query, maxGroups = 4_000_000): QueryResult {
  const fact = factNamed(dataset, query.fact);
  const { rows } = factTable(store, fact);
  const conditions = compileConjuncts(dataset, store, fact, query.filter);
  const tests = conditions.flatMap((condition) => (condition.kind === 'rows' ? [condition.test] : []));
  const grouping = planGrouping(dataset, store, fact, query.levels, conditions);
  const { streams, planned } = planStreams(dataset, store, fact, query.aggregates);
  const finest = grouping.dense ? countDense(grouping, streams, tests, rows) : countSparse(grouping, streams, tests, rows, maxGroups);
  const locals = localsOf(grouping, finest);
  refuseTooLarge(query.bounds, (set) => Math.max(1, coarsen(grouping, locals, finest.ids.length, query.sets[set]).size));
  const segments = streams.map((_, index) => segmentsOf(finest.accumulators[index].kept, finest));
  return {
    members: grouping.members,
    sets: query.sets.map((set) => rollUp(grouping, finest, locals, segments, streams, planned, set)),
  };
}

function scan(rows: number, selector: BlockSelector, each: (count: number) => void): void {
  for (let from = 0; from < rows; from += BLOCK) {
    const count = selector.select(from, Math.min(from + BLOCK, rows));
    if (count > 0) each(count);
  }
}

function countDense(grouping: Grouping, streams: Stream[], tests: ((row: number) => number)[], rows: number): Finest {
  const selector = denseSelector(grouping, tests, BLOCK);
  const records = new Float64Array(grouping.groups);
  const accumulators = streams.map((stream) => accumulatorFor(stream, grouping.groups));
  scan(rows, selector, (count) => {
    const { groups } = selector;
    countGroups(records, groups, count);
    for (const accumulator of accumulators) accumulator.add(selector, count);
  });
  let found = 0;
  for (let group = 0; group < records.length; group++) if (records[group] > 0) found++;
  const slots = new Int32Array(found);
  found = 0;
  for (let group = 0; group < records.length; group++) if (records[group] > 0) slots[found++] = group;
  return { ids: new Float64Array(slots), slots, records, accumulators };
}

function countSparse(grouping: Grouping, streams: Stream[], tests: ((row: number) => number)[], rows: number, maxGroups: number): Finest {
  const selector = sparseSelector(grouping, tests, BLOCK, maxGroups);
  let capacity = BLOCK * 4;
  let records = new Float64Array(capacity);
  const accumulators = streams.map((stream) => accumulatorFor(stream, capacity));
  scan(rows, selector, (count) => {
    if (selector.found.length > capacity) {
      capacity *= 2;
      const larger = new Float64Array(capacity);
      larger.set(records);
      records = larger;
      accumulators.forEach((accumulator) => accumulator.grow(capacity));
    }
    const { groups } = selector;
    countGroups(records, groups, count);
    for (const accumulator of accumulators) accumulator.add(selector, count);
  });
  return { ids: Float64Array.from(selector.found), slots: Int32Array.from(selector.found, (_, slot) => slot), records, accumulators };
}

/** Kept values laid out group by group, in the order of `Finest.slots`. */
interface Segments {
  values: Float64Array;
  /** Start of each finest group's values, and the end of the last. */
  starts: Int32Array;
}

function segmentsOf(kept: KeptValues | null, finest: Finest): Segments | null {
  if (!kept) return null;
  const positionOf = new Int32Array(finest.records.length);
  finest.slots.forEach((slot, position) => (positionOf[slot] = position));
  const starts = new Int32Array(finest.slots.length + 1);
  for (let k = 0; k < kept.length; k++) starts[positionOf[kept.groups[k]] + 1]++;
  for (let position = 0; position < finest.slots.length; position++) starts[position + 1] += starts[position];
  const next = starts.slice();
  const values = new Float64Array(kept.length);
  for (let k = 0; k < kept.length; k++) values[next[positionOf[kept.groups[k]]]++] = kept.values[k];
  return { values, starts };
}

/** The combination of each finest group in each part, taken out of the combined number once. */
function localsOf(grouping: Grouping, finest: Finest): Int32Array[] {
  return grouping.parts.map((part, index) => {
    const stride = grouping.strides[index];
    const locals = new Int32Array(finest.ids.length);
    for (let k = 0; k < locals.length; k++) locals[k] = Math.floor(finest.ids[k] / stride) % part.size;
    return locals;
  });
}

/**
 * Numbers the groups of a coarser set; returns the coarse group of each finest group and the set's keys. Combinations
 * are made coarser part by part, where they are few; each finest group then costs a look-up a part.
 */
function coarsen(
  grouping: Grouping,
  locals: Int32Array[],
  count: number,
  set: number[],
): { group: Int32Array; size: number; keys: Int32Array[] } {
  const parts = grouping.parts.flatMap((part, index) => {
    const levels = set.filter((level) => part.levels.includes(level));
    if (levels.length === 0) return [];
    const columns = levels.map((level) => part.codes[part.levels.indexOf(level)]);
    return [{ levels, locals: locals[index], ...numberTuples(columns, () => true, part.size) }];
  });
  const possible = parts.reduce((product, part) => product * part.size, 1);
  const numbers = new Float64Array(count);
  for (const part of parts) addDigit(numbers, part.size, part.local, part.locals);
  const group = new Int32Array(count);
  const first = new Int32Array(count);
  const size =
    possible <= Math.max(1 << 16, count * 8) ? numberKeys(numbers, possible, group, first) : numberSparseKeys(numbers, group, first);
  const keys = set.map((level) => {
    const part = parts.find(({ levels }) => levels.includes(level))!;
    return codesOfFirst(part.codes[part.levels.indexOf(level)], part.local, part.locals, first, size);
  });
  return { group, size, keys };
}

function rollUp(
  grouping: Grouping,
  finest: Finest,
  locals: Int32Array[],
  segments: (Segments | null)[],
  streams: Stream[],
  planned: PlannedAggregate[],
  set: number[],
): GroupingSetResult {
  const coarse = coarsen(grouping, locals, finest.ids.length, set);
  // The grand total exists even when no record is left: its counts are zero and its sums have no value.
  const size = set.length === 0 ? 1 : coarse.size;
  const records = new Float64Array(size);
  foldSum(records, coarse.group, finest.records, finest.slots);
  const tallies = finest.accumulators.map((accumulator) => mergeTallies(accumulator, finest, coarse.group, size, records));
  const members = planned.map(({ call, stream }): AggregateValues => {
    const aggregate = aggregates[call.fn];
    const operand = streams[stream].operand;
    const scale = operand?.type === 'number' ? operand.compiled.scale : 0;
    const values = new Float64Array(size);
    if (aggregate.kind === 'additive') {
      for (let group = 0; group < size; group++) values[group] = aggregate.value(tallies[stream], group);
    } else {
      valuesOfGroups(aggregate, segments[stream]!, coarse.group, size, call.fraction ?? 0.5, values);
    }
    if (aggregate.result === 'whole') return { type: 'number', values, scale: 0 };
    if (operand && operand.type === 'text') return { type: 'text', values, members: operand.members };
    if (operand && operand.type === 'date') return { type: 'date', values };
    return plainNumbers(
      values,
      scale,
      aggregate.result === 'keep' ? 1 : call.fn === 'variance' || call.fn === 'var_pop' ? 2 : 1,
      aggregate.result,
    );
  });
  return { levels: set, size, keys: coarse.keys, records, values: members };
}

/** Whether every value is a whole number that a double holds exactly. */
function allSafe(values: Float64Array): boolean {
  for (let group = 0; group < values.length; group++) if (Math.abs(values[group]) > Number.MAX_SAFE_INTEGER) return false;
  return true;
}

/** Units of 10^-scale to plain numbers; `power` is 2 for squares of units, as variances are. */
function plainNumbers(values: Float64Array, scale: number | null, power: number, result: 'keep' | 'float'): AggregateValues {
  if (scale === null) return { type: 'number', values, scale: null };
  const exact = result === 'keep' && allSafe(values);
  const divisor = 10 ** (scale * power);
  if (divisor !== 1) for (let group = 0; group < values.length; group++) values[group] /= divisor;
  return { type: 'number', values, scale: exact ? scale : null };
}

function mergeTallies(accumulator: Accumulator, finest: Finest, groupOf: Int32Array, size: number, records: Float64Array): Tally {
  const { tally, countsRecords } = accumulator;
  const merged: Tally = {
    count: countsRecords ? records : new Float64Array(size),
    sum: new Float64Array(tally.sum.length ? size : 0),
    min: new Float64Array(tally.min.length ? size : 0).fill(Infinity),
    max: new Float64Array(tally.max.length ? size : 0).fill(-Infinity),
  };
  const { slots } = finest;
  if (!countsRecords) foldSum(merged.count, groupOf, tally.count, slots);
  if (tally.sum.length) foldSum(merged.sum, groupOf, tally.sum, slots);
  if (tally.min.length)
    for (let k = 0; k < slots.length; k++) merged.min[groupOf[k]] = Math.min(merged.min[groupOf[k]], tally.min[slots[k]]);
  if (tally.max.length)
    for (let k = 0; k < slots.length; k++) merged.max[groupOf[k]] = Math.max(merged.max[groupOf[k]], tally.max[slots[k]]);
  return merged;
}

function valuesOfGroups(
  aggregate: HolisticAggregate,
  segments: Segments,
  groupOf: Int32Array,
  size: number,
  fraction: number,
  out: Float64Array,
): void {
  const counts = new Int32Array(size + 1);
  const { starts, values } = segments;
  groupOf.forEach((group, position) => (counts[group + 1] += starts[position + 1] - starts[position]));
  for (let group = 0; group < size; group++) counts[group + 1] += counts[group];
  const gathered = new Float64Array(values.length);
  const next = counts.slice();
  groupOf.forEach((group, position) => {
    gathered.set(values.subarray(starts[position], starts[position + 1]), next[group]);
    next[group] += starts[position + 1] - starts[position];
  });
  for (let group = 0; group < size; group++) {
    const own = gathered.subarray(counts[group], counts[group + 1]);
    if (own.length === 0) out[group] = aggregate.empty;
    else out[group] = aggregate.value(aggregate.sorted ? own.sort() : own, fraction);
  }
}
