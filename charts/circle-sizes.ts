import { niceStep } from '@bold-compass/core/chart';

/** Radii of circles whose area stands for a value, in pixels. */
interface CircleSizes {
  least: number;
  most: number;
}

export const POINT_SIZES: CircleSizes = { least: 4, most: 26 };
export const RING_SIZES: CircleSizes = { least: 3, most: 16 };

/** The radius of a value, in pixels: its area is in proportion, down to the smallest circle that still shows. */
export const radiusOf = ({ least, most }: CircleSizes, value: number, largest: number): number =>
  Math.max(least, most * Math.sqrt(value / largest));

/** Round values for a key to sizes, the larger one first: not much of the largest and a tenth of it. */
export function sampleValues(largest: number): number[] {
  if (!(largest > 0)) return [];
  const first = niceStep(largest / 2);
  return [first > largest ? first / 2 : first, niceStep(largest / 12)];
}
