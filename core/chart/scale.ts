/**
 * A round number near a distance: 1, 2 or 5 times a power of ten (Heckbert, "Nice numbers for graph labels", Graphics Gems,
 * 1990).
 */
export function niceStep(distance: number): number {
  const power = 10 ** Math.floor(Math.log10(distance));
  const part = distance / power;
  return (part < 1.5 ? 1 : part < 3 ? 2 : part < 7 ? 5 : 10) * power;
}

/** The ends of a scale. */
export interface Ends {
  min: number;
  max: number;
  /** The distance of its ticks. */
  step: number;
}

/**
 * Round ends of a scale over some values. Where lengths stand for values it holds zero; else it may begin elsewhere, and says
 * so by its first tick.
 */
export function scaleEnds(values: Iterable<number>, fromZero: boolean, ticks = 5): Ends {
  let [least, most] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  if (least > most) return { min: 0, max: 1, step: 1 };
  if (fromZero) [least, most] = [Math.min(0, least), Math.max(0, most)];
  if (least === most) [least, most] = least === 0 ? [0, 1] : [Math.min(0, least), Math.max(0, most)];
  const step = niceStep((most - least) / ticks);
  return { min: Math.floor(least / step) * step, max: Math.ceil(most / step) * step, step };
}
