import type { CountedAggregate } from '../model/index.ts';
import { percentileOf } from './aggregates.ts';

/** A value and how many records have it. */
export interface CountedValue {
  value: number;
  count: number;
}

type OfCounts = (values: readonly CountedValue[], total: number, fraction: number) => number;

const sample: OfCounts = (values, total) => (total < 2 ? Number.NaN : squaredDeviations(values, total) / (total - 1));
const population: OfCounts = (values, total) => squaredDeviations(values, total) / total;

/** Every aggregate that follows from how often each value stands. */
const OF_COUNTS: Record<CountedAggregate, OfCounts> = {
  median: (values, total) => percentileOfCounts(values, total, 0.5),
  percentile: percentileOfCounts,
  mode: (values) =>
    values.reduce((best, one) => (one.count > best.count || (one.count === best.count && one.value < best.value) ? one : best)).value,
  stddev: (values, total, fraction) => Math.sqrt(sample(values, total, fraction)),
  stddev_pop: (values, total, fraction) => Math.sqrt(population(values, total, fraction)),
  variance: sample,
  var_pop: population,
};

/**
 * An aggregate of values that are given with their counts, as `aggregates` work it out of every record. NaN where there are
 * no values, or too few.
 */
export function aggregateOfCounts(fn: CountedAggregate, values: readonly CountedValue[], fraction: number): number {
  const total = values.reduce((sum, { count }) => sum + count, 0);
  return total === 0 ? Number.NaN : OF_COUNTS[fn](values, total, fraction);
}

/** Of all values in their order, only those beside the place of the fraction are looked at. */
function percentileOfCounts(values: readonly CountedValue[], total: number, fraction: number): number {
  const sorted = [...values].sort((a, b) => a.value - b.value);
  const position = fraction * (total - 1);
  const below = Math.floor(position);
  const beside = new Float64Array(2);
  let passed = 0;
  for (const { value, count } of sorted) {
    if (passed <= below && below < passed + count) beside[0] = value;
    if (passed <= below + 1 && below + 1 < passed + count) beside[1] = value;
    passed += count;
  }
  return position === below ? beside[0] : percentileOf(beside, position - below);
}

/** The corrected two-pass algorithm of `aggregates`, each value taken as often as it stands. */
function squaredDeviations(values: readonly CountedValue[], total: number): number {
  const mean = values.reduce((sum, { value, count }) => sum + value * count, 0) / total;
  let [squares, rest] = [0, 0];
  for (const { value, count } of values) {
    const deviation = value - mean;
    squares += count * deviation * deviation;
    rest += count * deviation;
  }
  return squares - (rest * rest) / total;
}
