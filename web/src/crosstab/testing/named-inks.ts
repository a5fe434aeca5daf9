import type { MarkInks } from '../mark-shapes.ts';

/** Each colour by its name, for tests that tell which one is used. */
export const NAMED_INKS: MarkInks = {
  ...{
    bar: 'bar',
    below: 'below',
    target: 'target',
    line: 'line',
    column: 'column',
    last: 'last',
    arrow: 'arrow',
    good: 'good',
    bad: 'bad',
  },
  tones: { on: 'on', drift: 'drift', off: 'off', sea: 'sea', brass: 'brass', quiet: 'quiet' },
  ground: (amount) => `ground ${amount}`,
};
