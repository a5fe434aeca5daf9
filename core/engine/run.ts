import { factNamed, type Dataset } from '../model/index.ts';
import { aggregates, type HolisticAggregate, type Tally } from './aggregates.ts';
import type { Store } from './columns.ts';
import { BLOCK } from './expression.ts';
import { denseSelector, numberTuples, planGrouping, sparseSelector, type BlockSelector, type Grouping } from './grouping.ts';
import { compileConjuncts } from './predicate.ts';
import type { AggregateValues, GroupingSetResult, Query, QueryResult } from './query.ts';
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
 * Throws QueryError where the query does not fit, TooManyGroupsError past `maxGroups`.
 */
export function runQuery(dataset: Dataset, store: Store, query: Query, maxGroups = 4_000_000): QueryResult {
  const fact = factNamed(dataset, query.fact);
  const { rows } = factTable(store, fact);
  const conditions = compileConjuncts(dataset, store, fact, query.filter);
  const tests = conditions.flatMap((condition) => (condition.kind === 'rows' ? [condition.test] : []));
  const grouping = planGrouping(dataset, store, fact, query.levels, conditions);
  const { streams, planned } = planStreams(dataset, store, fact, query.aggregates);
  const finest = grouping.dense ? countDense(grouping, streams, tests, rows) : countSparse(grouping, streams, tests, rows, maxGroups);
  const segments = streams.map((_, index) => segmentsOf(finest.accumulators[index].kept, finest));
  return {
    members: grouping.members,
    sets: query.sets.map((set) => rollUp(grouping, finest, segments, streams, planned, set)),
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
    for (let k = 0; k < count; k++) records[groups[k]]++;
    for (const accumulator of accumulators) accumulator.add(selector.rows, groups, count);
  });
  const slots: number[] = [];
  for (let group = 0; group < records.length; group++) if (records[group] > 0) slots.push(group);
  return { ids: Float64Array.from(slots), slots: Int32Array.from(slots), records, accumulators };
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
    for (let k = 0; k < count; k++) records[groups[k]]++;
    for (const accumulator of accumulators) accumulator.add(selector.rows, groups, count);
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

/** Numbers the groups of a coarser set; returns the coarse group of each finest group and the sets' keys. */
function coarsen(grouping: Grouping, finest: Finest, set: number[]): { group: Int32Array; size: number; keys: Int32Array[] } {
  const columns = set.map((level) => {
    const index = grouping.parts.findIndex((part) => part.levels.includes(level));
    const part = grouping.parts[index];
    const codes = part.codes[part.levels.indexOf(level)];
    const stride = grouping.strides[index];
    return Int32Array.from(finest.ids, (id) => codes[Math.floor(id / stride) % part.size]);
  });
  const { local, size, codes } = numberTuples(columns, () => true, finest.ids.length);
  return { group: local, size: finest.ids.length === 0 ? 0 : size, keys: codes };
}

function rollUp(
  grouping: Grouping,
  finest: Finest,
  segments: (Segments | null)[],
  streams: Stream[],
  planned: PlannedAggregate[],
  set: number[],
): GroupingSetResult {
  const coarse = coarsen(grouping, finest, set);
  // The grand total exists even when no record is left: its counts are zero and its sums have no value.
  const size = set.length === 0 ? 1 : coarse.size;
  const records = new Float64Array(size);
  finest.slots.forEach((slot, position) => (records[coarse.group[position]] += finest.records[slot]));
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

/** Units of 10^-scale to plain numbers; squares of units for variances. */
function plainNumbers(values: Float64Array, scale: number | null, power: number, result: 'keep' | 'float'): AggregateValues {
  if (scale === null) return { type: 'number', values, scale: null };
  const exact = result === 'keep' && values.every((value) => !(Math.abs(value) > Number.MAX_SAFE_INTEGER));
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
  finest.slots.forEach((slot, position) => {
    const group = groupOf[position];
    if (!countsRecords) merged.count[group] += tally.count[slot];
    if (tally.sum.length) merged.sum[group] += tally.sum[slot];
    if (tally.min.length) merged.min[group] = Math.min(merged.min[group], tally.min[slot]);
    if (tally.max.length) merged.max[group] = Math.max(merged.max[group], tally.max[slot]);
  });
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
