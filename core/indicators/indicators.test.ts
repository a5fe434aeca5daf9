import fc from 'fast-check';
import { quantileSorted } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import type { Indicator } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { attainment, bearingOf, comparisonWords, quantileOf, stateAt, stateOf, stepsOf, type Limits, type State } from './index.ts';

const higher: Limits = { by: 'ratio', onCourse: 1, drifting: 0.96, direction: 'higher' };
const five: Limits = { by: 'value', ahead: 4, onCourse: 3, drifting: 2, far: 1, direction: 'higher' };

describe('states of a KPI', () => {
  it.each([
    [100, 100, 'on'],
    [99.99, 100, 'drifting'],
    [96, 100, 'drifting'],
    [95.99, 100, 'off'],
    [Number.NaN, 100, 'none'],
    [100, Number.NaN, 'none'],
    [5, 0, 'none'],
  ] as const)('%d against %d is %s', (value, target, state) => {
    expect(stateOf(value, target, higher)).toBe(state);
  });

  it('include the lower bound of each band, whichever way is better', () => {
    const at = (values: number[], limits: Limits): State[] => values.map((value) => stateAt(value, limits));
    expect(at([4, 3, 2, 1, 0.999], five)).toEqual(['ahead', 'on', 'drifting', 'off', 'far']);
    const lower: Limits = { by: 'value', onCourse: 3, drifting: 5, direction: 'lower' };
    expect(at([2.999, 3, 4.999, 5], lower)).toEqual(['on', 'drifting', 'drifting', 'off']);
    const band: Limits = { by: 'difference', onCourse: 1, drifting: 2, direction: 'band' };
    expect(at([-2.001, -2, -1, 0, 0.999, 1, 1.999, 2], band)).toEqual(['off', 'drifting', 'on', 'on', 'on', 'drifting', 'drifting', 'off']);
  });

  it('do not tip over on the last binary digit', () => {
    expect(stateOf(0.3, 0.1, { by: 'difference', onCourse: 0.2, drifting: 0.1, direction: 'higher' })).toBe('on');
    expect(stateAt(0.1 + 0.2, { by: 'value', onCourse: 0.3, direction: 'lower' })).toBe('off');
  });

  it('are as many as there are limits, and one more', () => {
    expect(stepsOf({ by: 'ratio', onCourse: 1, direction: 'higher' }).map(({ state }) => state)).toEqual(['on', 'off']);
    expect(stepsOf(higher).map(({ state }) => state)).toEqual(['on', 'drifting', 'off']);
    expect(stepsOf({ ...higher, ahead: 1.1 }).map(({ state }) => state)).toEqual(['ahead', 'on', 'drifting', 'off']);
    expect(stepsOf(five).map(({ state }) => state)).toEqual(['ahead', 'on', 'drifting', 'off', 'far']);
  });

  it('never get worse as a value gets better, nor does the needle', () => {
    const order: State[] = ['far', 'off', 'drifting', 'on', 'ahead'];
    const number = fc.double({ min: -1e6, max: 1e6, noNaN: true });
    fc.assert(
      fc.property(
        number,
        number,
        fc.uniqueArray(number, { minLength: 4, maxLength: 4 }),
        fc.constantFrom('higher', 'lower'),
        (a, b, limits, direction) => {
          const [ahead, onCourse, drifting, far] = limits.sort((x, y) => (direction === 'higher' ? y - x : x - y));
          const own: Limits = { by: 'value', ahead, onCourse, drifting, far, direction };
          const [worse, better] = a < b === (direction === 'higher') ? [a, b] : [b, a];
          expect(order.indexOf(stateAt(worse, own))).toBeLessThanOrEqual(order.indexOf(stateAt(better, own)));
          expect(bearingOf(worse, own)!).toBeGreaterThanOrEqual(bearingOf(better, own)!);
        },
      ),
    );
  });

  it('have a needle that points up on course, level in between, and down off it', () => {
    expect(bearingOf(1, higher)).toBe(64);
    expect(bearingOf(0.98, higher)).toBe(90);
    expect(bearingOf(0.96, higher)).toBe(116);
    expect([bearingOf(2, higher), bearingOf(0, higher)]).toEqual([12, 168]);
    expect(bearingOf(Number.NaN, higher)).toBeNull();
  });

  it('hold ratios, differences, or values themselves against the limits', () => {
    expect([attainment(3, 4, 'ratio'), attainment(3, 4, 'difference'), attainment(3, 4, 'value')]).toEqual([0.75, -1, 3]);
    expect(attainment(3, 0, 'ratio')).toBeNaN();
  });
});

describe('quantiles', () => {
  it('are those of definition 7 of Hyndman and Fan, by an example of PostgreSQL’s percentile_cont', () => {
    // 10, 20, 30, 40: percentile_cont(0.25) is 17.5 (worked by hand from the definition).
    expect(quantileOf([10, 20, 30, 40], 0.25)).toBe(17.5);
    expect(quantileOf([], 0.5)).toBeNaN();
    expect(quantileOf([7], 0.9)).toBe(7);
  });

  it('lie between the smallest and the largest, and the middle one is the median of simple-statistics', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -1e9, max: 1e9, noNaN: true }), { minLength: 1, maxLength: 60 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (values, share) => {
          const sorted = values.sort((a, b) => a - b);
          expect(quantileOf(sorted, share)).toBeGreaterThanOrEqual(sorted[0]);
          expect(quantileOf(sorted, share)).toBeLessThanOrEqual(sorted.at(-1)!);
          expect(quantileOf(sorted, 0.5)).toBeCloseTo(quantileSorted(sorted, 0.5), 6);
        },
      ),
    );
  });
});

describe('the words of a comparison', () => {
  const words = (against: Indicator['against'], by: Indicator['by'] = 'ratio'): string =>
    comparisonWords(workedDataset, { against, by }, { kind: 'percent', decimals: 1, unit: 'one' }, 'en-GB');
  it('follow what is held against', () => {
    expect(words({ kind: 'measure', measure: 'goal' })).toBe('of goal');
    expect(words({ kind: 'measure', measure: 'goal' }, 'difference')).toBe('against goal');
    expect(words({ kind: 'value', value: 0.43 }, 'difference')).toBe('against 43\u00a0%');
    expect(words({ kind: 'back', amount: 1, unit: 'year' })).toBe('on last year');
    expect(words({ kind: 'back', amount: 2, unit: 'month' })).toBe('on 2 months before');
    expect(words({ kind: 'average' })).toBe('of the average');
    expect(words({ kind: 'average', field: 'country' }, 'difference')).toBe('against the average of countries');
    expect(words({ kind: 'none' })).toBe('');
    expect(words({ kind: 'back', amount: 1, unit: 'year' }, 'value')).toBe('');
  });
});
