import type { AggregateName } from '../model/index.ts';

/** Running figures of one group, added to record by record and merged when groups are rolled up. */
export interface Tally {
  /** Records that have a value. */
  count: Float64Array;
  sum: Float64Array;
  min: Float64Array;
  max: Float64Array;
}

/** Aggregates that follow from a tally, and so can be rolled up. */
export interface AdditiveAggregate {
  kind: 'additive';
  needs: (keyof Tally)[];
  /** `keep`: the result is in the units of what is aggregated; `float`: a float; `whole`: a whole number. */
  result: 'keep' | 'float' | 'whole';
  /** Of the units: 2 where it is in their squares. */
  power: 1 | 2;
  value(tally: Tally, group: number): number;
  /** Its value over two groups together, from that of each; null where it does not follow from these. */
  merge: ((before: number, more: number) => number) | null;
}

/** Aggregates that must see all values of a group. */
export interface HolisticAggregate {
  kind: 'holistic';
  /** Whether `value` has to be given the values in ascending order. */
  sorted: boolean;
  result: 'keep' | 'float' | 'whole';
  power: 1 | 2;
  /** `values` holds at least one value; `fraction` is that of `percentile`. */
  value(values: Float64Array, fraction: number): number;
  /** The value of a group without values; NaN is "no value". */
  empty: number;
}

export type Aggregate = AdditiveAggregate | HolisticAggregate;

/**
 * Continuous percentile: linear interpolation between the closest ranks, as `percentile_cont` of SQL:2003 does
 * (method 7 of Hyndman and Fan, "Sample Quantiles in Statistical Packages", 1996).
 */
export function percentileOf(sorted: Float64Array, fraction: number): number {
  const position = fraction * (sorted.length - 1);
  const below = Math.floor(position);
  const above = Math.ceil(position);
  if (below === above) return sorted[below];
  return sorted[below] + (position - below) * (sorted[above] - sorted[below]);
}

/** Most frequent value; the smallest of several that are equally frequent. */
export function modeOf(sorted: Float64Array): number {
  let best = sorted[0];
  let bestRun = 0;
  for (let start = 0; start < sorted.length;) {
    let end = start + 1;
    while (end < sorted.length && sorted[end] === sorted[start]) end++;
    if (end - start > bestRun) {
      bestRun = end - start;
      best = sorted[start];
    }
    start = end;
  }
  return best;
}

/**
 * Sum of squared deviations from the mean by the corrected two-pass algorithm (Chan, Golub and LeVeque, "Algorithms for
 * Computing the Sample Variance", The American Statistician 37, 1983).
 */
function squaredDeviations(values: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < values.length; k++) sum += values[k];
  const mean = sum / values.length;
  let squares = 0;
  let rest = 0;
  for (let k = 0; k < values.length; k++) {
    const deviation = values[k] - mean;
    squares += deviation * deviation;
    rest += deviation;
  }
  return squares - (rest * rest) / values.length;
}

const sample = (values: Float64Array): number => (values.length < 2 ? Number.NaN : squaredDeviations(values) / (values.length - 1));
const population = (values: Float64Array): number => squaredDeviations(values) / values.length;

function distinct(sorted: Float64Array): number {
  let count = 1;
  for (let k = 1; k < sorted.length; k++) if (sorted[k] !== sorted[k - 1]) count++;
  return count;
}

const holistic = (
  result: Aggregate['result'],
  sorted: boolean,
  value: HolisticAggregate['value'],
  { empty = Number.NaN, power = 1 as 1 | 2 } = {},
): HolisticAggregate => ({ kind: 'holistic', result, sorted, value, empty, power });

const ofTally = (
  needs: (keyof Tally)[],
  result: Aggregate['result'],
  value: AdditiveAggregate['value'],
  merge: AdditiveAggregate['merge'] = null,
): AdditiveAggregate => ({ kind: 'additive', power: 1, needs, result, value, merge });

const added = (before: number, more: number): number => before + more;

const orMissing = (tally: Tally, group: number, value: number): number => (tally.count[group] === 0 ? Number.NaN : value);

/** Every aggregate function, as a record. */
export const aggregates: Record<AggregateName, Aggregate> = {
  sum: ofTally(['sum'], 'keep', (tally, group) => orMissing(tally, group, tally.sum[group]), added),
  avg: ofTally(['sum'], 'float', (tally, group) => orMissing(tally, group, tally.sum[group] / tally.count[group])),
  min: ofTally(['min'], 'keep', (tally, group) => orMissing(tally, group, tally.min[group]), Math.min),
  max: ofTally(['max'], 'keep', (tally, group) => orMissing(tally, group, tally.max[group]), Math.max),
  count: ofTally([], 'whole', (tally, group) => tally.count[group], added),
  count_distinct: holistic('whole', true, distinct, { empty: 0 }),
  median: holistic('float', true, (values) => percentileOf(values, 0.5)),
  percentile: holistic('float', true, percentileOf),
  mode: holistic('keep', true, modeOf),
  stddev: holistic('float', false, (values) => Math.sqrt(sample(values))),
  stddev_pop: holistic('float', false, (values) => Math.sqrt(population(values))),
  variance: holistic('float', false, sample, { power: 2 }),
  var_pop: holistic('float', false, population, { power: 2 }),
};

/**
 * An aggregate of values that are given one by one. `fraction` is that of `percentile`. NaN where there are none, or too few;
 * a number of values is then 0.
 */
export function aggregateOfValues(fn: AggregateName, values: Float64Array, fraction: number): number {
  const aggregate = aggregates[fn];
  if (aggregate.kind === 'holistic') {
    if (values.length === 0) return aggregate.empty;
    return aggregate.value(aggregate.sorted ? values.toSorted() : values, fraction);
  }
  const over = (from: number, step: (before: number, value: number) => number): Float64Array => Float64Array.of(values.reduce(step, from));
  const tally: Tally = {
    count: Float64Array.of(values.length),
    sum: over(0, added),
    min: over(Infinity, (before, value) => Math.min(before, value)),
    max: over(-Infinity, (before, value) => Math.max(before, value)),
  };
  return aggregate.value(tally, 0);
}

/** How the values of an aggregate over two groups become its value over both. Throws for one whose traits do not say `merge`. */
export function mergeOf(fn: AggregateName): (before: number, more: number) => number {
  const aggregate = aggregates[fn];
  if (aggregate.kind === 'additive' && aggregate.merge) return aggregate.merge;
  throw new TypeError(`${fn} does not follow from its values over parts.`);
}
