import type { State } from '@bold-compass/core/indicators';

/** The words of the KPI states. */
export const STATE_WORDS = {
  ahead: 'Well on course',
  on: 'On course',
  drifting: 'Drifting',
  off: 'Off course',
  far: 'Far off course',
  none: 'No reading',
} as const satisfies Record<State, string>;

/** The three colours of states: that of a step beyond is its neighbour's. */
export const STATE_COLOURS = {
  ahead: 'on',
  on: 'on',
  drifting: 'drifting',
  off: 'off',
  far: 'off',
  none: 'none',
} as const satisfies Record<State, string>;

/** The locale that figures and dates are written in. */
export const LOCALE = 'en-GB';
