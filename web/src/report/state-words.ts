import type { State } from '@bold-compass/core/indicators';

/** The three colours of states: that of a step beyond is its neighbour's. */
export const STATE_COLOURS = {
  ahead: 'on',
  on: 'on',
  drifting: 'drifting',
  off: 'off',
  far: 'off',
  none: 'none',
} as const satisfies Record<State, string>;
