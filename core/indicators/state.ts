import type { Direction } from '../model/index.ts';

/** The states of a KPI. `none` is shown as "No reading": the value or what it is held against is missing. */
export type State = 'on' | 'drifting' | 'off' | 'none';

export interface Limits {
  by: 'ratio' | 'difference';
  onCourse: number;
  drifting: number;
  direction: Direction;
}

/** How far a value reaches its target: their ratio or their difference, as the limits are written; NaN where either is missing. */
export function attainment(value: number, target: number, by: Limits['by']): number {
  const result = by === 'ratio' ? value / target : value - target;
  return Number.isFinite(result) ? result : Number.NaN;
}

/**
 * The state of a value against its target. A limit itself still counts as reached. Rounding in the last binary digit
 * does not push a value over a limit: both sides are compared to 12 significant digits.
 */
export function stateOf(value: number, target: number, limits: Limits): State {
  const reached = attainment(value, target, limits.by);
  if (Number.isNaN(reached)) return 'none';
  const sign = limits.direction === 'higher' ? 1 : -1;
  const meets = (limit: number): boolean => {
    const slack = 1e-12 * Math.max(Math.abs(limit), Math.abs(reached));
    return sign * (reached - limit) >= -slack;
  };
  if (meets(limits.onCourse)) return 'on';
  return meets(limits.drifting) ? 'drifting' : 'off';
}
