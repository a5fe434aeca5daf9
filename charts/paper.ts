import type { CanvasTokens } from './tokens.ts';

/** The look on white paper: the light theme's colours. */
export const PAPER_TOKENS: CanvasTokens = {
  ...{
    ink: 'rgb(24, 37, 47)',
    quiet: 'rgb(81, 96, 107)',
    rule: 'rgb(217, 212, 199)',
    hairline: 'rgb(236, 232, 221)',
    paper: 'rgb(255, 255, 255)',
  },
  ...{ sea: 'rgb(14, 79, 92)', brass: 'rgb(168, 106, 18)', good: 'rgb(14, 79, 92)', bad: 'rgb(178, 58, 46)' },
  series: [
    ...['rgb(14, 79, 92)', 'rgb(168, 106, 18)', 'rgb(74, 140, 155)', 'rgb(169, 80, 58)'],
    ...['rgb(95, 111, 143)', 'rgb(106, 134, 56)', 'rgb(123, 75, 115)', 'rgb(133, 127, 114)'],
  ],
  states: {
    ...{ ahead: 'rgb(31, 122, 88)', on: 'rgb(31, 122, 88)', drifting: 'rgb(183, 121, 31)' },
    ...{ off: 'rgb(178, 58, 46)', far: 'rgb(178, 58, 46)', none: 'rgb(130, 144, 154)' },
  },
};
