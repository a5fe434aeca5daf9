import type { ChartKindName } from '@bold-compass/core/model';

/** What tells charts along an axis apart when they are drawn. */
interface AxisLook {
  /** How thick bars are at most, in pixels. */
  thickness: number;
  /** Whether bars touch those beside them. */
  touches: boolean;
  /** Whether values are points that no line goes through. */
  pointsOnly: boolean;
  /** Whether a thin line goes from the smallest to the largest value of each member. */
  connects: boolean;
  /** Whether bars reach from one value to another, which need not be zero. */
  spans: boolean;
  /** Whether the second series is the target of the first: a mark across its bar. */
  targets: boolean;
  /** Whether figures stand within their bars. */
  figuresInside: boolean;
  /** A line that is always there, on the second axis. */
  line: { at: number; words: string } | null;
}

const PLAIN: AxisLook = {
  ...{ thickness: 42, touches: false, pointsOnly: false, connects: false, spans: false, targets: false, figuresInside: false },
  line: null,
};

const LOOKS: Partial<Record<ChartKindName, Partial<AxisLook>>> = {
  // Where the few members end that make most of the whole.
  pareto: { line: { at: 0.8, words: '80 %' } },
  bullet: { thickness: 14, targets: true },
  dumbbell: { pointsOnly: true, connects: true },
  range: { thickness: 14, pointsOnly: true, spans: true },
  diverging: { touches: true, figuresInside: true },
};

/** How a chart along an axis looks: as columns do, where its kind says nothing else. */
export const axisLook = (kind: ChartKindName): AxisLook => ({ ...PLAIN, ...LOOKS[kind] });
