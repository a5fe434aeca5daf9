import type { ReferenceLine } from '../model/index.ts';
import { quantile } from './spread.ts';

/** The value of a reference line over what a series shows; null where it shows nothing. */
export function referenceValue({ at }: Pick<ReferenceLine, 'at'>, values: readonly (number | null)[]): number | null {
  if (typeof at === 'number') return at;
  const known = values.flatMap((value) => (value === null ? [] : [value])).sort((a, b) => a - b);
  if (known.length === 0) return null;
  return at === 'median' ? quantile(known, 0.5) : known.reduce((sum, value) => sum + value, 0) / known.length;
}
