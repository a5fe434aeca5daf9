import type { ReferenceLine } from '../model/index.ts';
import { quantile } from './spread.ts';

/** Where a process that nothing special happens to stays. */
export interface ControlLimits {
  low: number;
  centre: number;
  high: number;
}

/** The mean range of two values of a normal process is so many of its deviations. */
const D2 = 1.128;

/**
 * Control limits of single values in their order: the average, and three deviations to both sides of it, which follow from the
 * mean of the ranges of neighbours (chart for individuals: ISO 7870-2:2013; NIST/SEMATECH e-Handbook of Statistical Methods,
 * 6.3.2.2). Null for fewer than two values; a gap has no neighbours.
 */
export function controlLimits(values: readonly (number | null)[]): ControlLimits | null {
  const known = values.filter((value) => value !== null);
  const ranges = values.slice(1).flatMap((value, index) => {
    const before = values[index];
    return value === null || before === null ? [] : [Math.abs(value - before)];
  });
  if (ranges.length === 0) return null;
  const mean = (of: readonly number[]): number => of.reduce((sum, value) => sum + value, 0) / of.length;
  const centre = mean(known);
  const reach = (3 * mean(ranges)) / D2;
  return { low: centre - reach, centre, high: centre + reach };
}

export const isOutside = ({ low, high }: ControlLimits, value: number): boolean => value < low || value > high;

/** The value of a reference line over what a series shows; null where it shows nothing, or is no single line. */
export function referenceValue({ at }: Pick<ReferenceLine, 'at'>, values: readonly (number | null)[]): number | null {
  if (typeof at === 'number') return at;
  const known = values.flatMap((value) => (value === null ? [] : [value])).sort((a, b) => a - b);
  if (known.length === 0 || at === 'limits') return null;
  return at === 'median' ? quantile(known, 0.5) : known.reduce((sum, value) => sum + value, 0) / known.length;
}
