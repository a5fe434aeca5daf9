/** A bar with the width of the figure at its end, in pixels. */
interface LabelledBar {
  value: number;
  width: number;
}

/** Between a bar and its figure, and between the figure and what is beside it, in pixels. */
const GAP = 6;
/** Bars keep this share of the room, however long their figures are. */
const LEAST_SHARE = 0.3;

/**
 * The ends of a scale on which every bar leaves room for the figure at its end, below zero on one side and above it on the
 * other; null where there is no bar of any length. `room` is what bars and figures have together, in pixels; `ends` are those
 * that the scale has at least.
 */
export function endsWithFigures(
  bars: readonly LabelledBar[],
  room: number,
  ends: { min: number; max: number } = { min: 0, max: 0 },
): { min: number; max: number } | null {
  const least = Math.min(0, ends.min, ...bars.map(({ value }) => value));
  const most = Math.max(0, ends.max, ...bars.map(({ value }) => value));
  if (least === most) return null;
  const widest = (own: readonly LabelledBar[]): number => Math.max(0, ...own.map(({ width }) => width + 2 * GAP));
  const below = widest(bars.filter(({ value }) => value < 0));
  const above = widest(bars.filter(({ value }) => value >= 0));
  const perPixel = (most - least) / Math.max(room * LEAST_SHARE, room - below - above);
  return { min: least - below * perPixel, max: most + above * perPixel };
}
