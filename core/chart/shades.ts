import type { ChartSettings } from '../model/index.ts';

/** Where the colours of some values begin, turn and end. */
export interface ShadeScale {
  low: number;
  high: number;
  /** The value where they turn; null where they go one way, from pale to dark. */
  middle: number | null;
}

/**
 * A scale of colours over some values. Two ways from a middle, each as far as the value that is furthest from it, where one is
 * given, or the values lie on both sides of zero; else, or where it is null, one way from the smallest to the largest.
 */
export function shadeScale(values: readonly number[], middle: number | null | undefined): ShadeScale {
  const [least, most] = values.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity]);
  const turn = middle === undefined ? (least < 0 && most > 0 ? 0 : null) : middle;
  if (turn === null) return { low: least, high: most, middle: null };
  const reach = Math.max(Math.abs(most - turn), Math.abs(turn - least));
  return { low: turn - reach, high: turn + reach, middle: turn };
}

/** Where the colours of a chart turn: without colours they go one way, since greys cannot tell two ways apart. */
export const middleOf = ({ style, middle }: Pick<ChartSettings, 'style' | 'middle'>): number | null | undefined =>
  style === 'monochrome' ? null : middle;

/** How dark a value is, from 0 to 1: below a middle negative. */
export function shadeOf({ low, high, middle }: ShadeScale, value: number): number {
  if (middle === null) return high > low ? (value - low) / (high - low) : 1;
  return high > middle ? (value - middle) / (high - middle) : 0;
}
