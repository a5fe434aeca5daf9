import type { Indicator } from '../model/index.ts';

/**
 * The states of a KPI, the best first. `none` is shown as "No reading": the value or what it is held against is missing.
 * `ahead` and `far` are there only where an indicator has limits for them.
 */
export type State = 'ahead' | 'on' | 'drifting' | 'off' | 'far' | 'none';

export type Limits = Pick<Indicator, 'by' | 'direction' | 'onCourse'> & Partial<Pick<Indicator, 'ahead' | 'drifting' | 'far'>>;

/**
 * What is held against the limits: the ratio of a value to its target, their difference, or the value itself; NaN where
 * something is missing.
 */
export function attainment(value: number, target: number, by: Limits['by']): number {
  const result = by === 'ratio' ? value / target : by === 'difference' ? value - target : value;
  return Number.isFinite(result) ? result : Number.NaN;
}

/** A step of an indicator: its state, and the limit that it begins at, seen from worse to better; −∞ for the worst. */
interface Step {
  state: State;
  limit: number;
}

/** The steps of an indicator, the best first. */
export function stepsOf({ ahead, onCourse, drifting, far }: Limits): Step[] {
  const limited: [State, number | undefined][] = [
    ['ahead', ahead],
    ['on', onCourse],
    ['drifting', drifting],
    ['off', far],
  ];
  const steps = limited.flatMap(([state, limit]) => (limit === undefined ? [] : [{ state, limit }]));
  return [...steps, { state: far === undefined ? 'off' : 'far', limit: -Infinity }];
}

/** Where a ratio or difference that is on its target stands. */
const centre = (by: Limits['by']): number => (by === 'ratio' ? 1 : 0);

/** Values differ only from here on: rounding in the last binary digit pushes none over a limit. */
const slackOf = (a: number, b: number): number => 1e-12 * Math.max(Math.abs(a), Math.abs(b));
const atLeast = (value: number, limit: number): boolean => value - limit >= -slackOf(value, limit);

/**
 * Whether what was reached is as good as a limit says. Each band includes its lower bound (common practice, no source): from
 * the limit on where higher is better, below it where lower is, and within it on both sides for a band, whose upper bound is
 * outside.
 */
function meets(reached: number, limit: number, { by, direction }: Limits): boolean {
  if (limit === -Infinity) return true;
  if (direction === 'higher') return atLeast(reached, limit);
  if (direction === 'lower') return !atLeast(reached, limit);
  const middle = centre(by);
  return atLeast(reached, middle - limit) && !atLeast(reached, middle + limit);
}

/** The state of what was reached. Both sides are compared to 12 significant digits. */
export function stateAt(reached: number, limits: Limits): State {
  if (Number.isNaN(reached)) return 'none';
  return stepsOf(limits).find(({ limit }) => meets(reached, limit, limits))!.state;
}

/** The state of a value against its target. */
export const stateOf = (value: number, target: number, limits: Limits): State => stateAt(attainment(value, target, limits.by), limits);

/** Degrees between the needle's highest and its lowest, from straight up. */
const STEEPEST = 12;
const LOWEST = 168;

/**
 * Where the needle points, in degrees from straight up: level half way between being on course and off it, and the steeper the
 * further from there. Null where there is no reading.
 */
export function bearingOf(reached: number, limits: Limits): number | null {
  if (Number.isNaN(reached)) return null;
  const { by, direction, onCourse } = limits;
  const worst = limits.drifting ?? onCourse;
  const width = Math.abs(onCourse - worst) || Math.abs(onCourse) * 0.04 || 1;
  const middle = (onCourse + worst) / 2;
  // How much better than level it is, in widths of the drifting band.
  const distance =
    direction === 'higher' ? reached - middle : direction === 'lower' ? middle - reached : middle - Math.abs(reached - centre(by));
  const turned = 90 - (distance / width) * 52;
  return Math.round(Math.min(LOWEST, Math.max(STEEPEST, turned)));
}
