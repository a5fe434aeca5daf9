import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sortedPositions } from './sort-keys.ts';

describe('positions of texts sorted by their characters', () => {
  const text = fc.oneof(
    fc.string({ unit: fc.integer({ min: 1, max: 127 }).map((code) => String.fromCharCode(code)), maxLength: 14 }),
    // Long common beginnings, as names of things have.
    fc.integer({ min: 0, max: 400 }).map((number) => `person ${number} of many`),
  );

  it('are those of comparing them, and texts that are equal are told as ties', () => {
    fc.assert(
      fc.property(fc.array(text, { maxLength: 300 }), (keys) => {
        const ties: string[][] = [];
        const positions = sortedPositions(keys, (run) => ties.push(Array.from(run, (position) => keys[position])));
        const sorted = Array.from(positions, (position) => keys[position]);
        expect(sorted).toEqual(keys.toSorted((a, b) => (a < b ? -1 : a > b ? 1 : 0)));
        expect([...positions].sort((a, b) => a - b)).toEqual(keys.map((_, index) => index));
        const times = (key: string): number => keys.filter((one) => one === key).length;
        expect(ties.map(([key, ...rest]) => [key, rest.length + 1])).toEqual(
          [...new Set(sorted)].filter((key) => times(key) > 1).map((key) => [key, times(key)]),
        );
        expect(ties.every((run) => run.every((key) => key === run[0]))).toBe(true);
      }),
      { numRuns: 500 },
    );
  });

  it('of none and of one are there', () => {
    expect([...sortedPositions([], () => undefined)]).toEqual([]);
    expect([...sortedPositions(['a'], () => undefined)]).toEqual([0]);
  });
});
