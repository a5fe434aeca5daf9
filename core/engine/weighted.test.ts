import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { AGGREGATE_NAMES, isCounted } from '../model/index.ts';
import { aggregates } from './aggregates.ts';
import { aggregateOfCounts } from './weighted.ts';

const FROM_COUNTS = AGGREGATE_NAMES.filter(isCounted);

const counted = fc.uniqueArray(fc.record({ value: fc.integer({ min: -1_000, max: 1_000 }), count: fc.integer({ min: 1, max: 9 }) }), {
  selector: ({ value }) => value,
  minLength: 1,
  maxLength: 30,
});

describe('aggregates by the counts of values', () => {
  it('are those of every record by itself', () => {
    fc.assert(
      fc.property(fc.constantFrom(...FROM_COUNTS), counted, fc.double({ min: 0, max: 1, noNaN: true }), (fn, values, fraction) => {
        const aggregate = aggregates[fn];
        if (aggregate.kind !== 'holistic') return expect.fail(`${fn} follows from sums`);
        const records = Float64Array.from(values.flatMap(({ value, count }) => Array.from({ length: count }, () => value))).sort();
        const ours = aggregateOfCounts(fn, values, fraction);
        const theirs = aggregate.value(records, fn === 'percentile' ? fraction : 0.5);
        if (Number.isNaN(theirs)) expect(ours).toBeNaN();
        else expect(ours).toBeCloseTo(theirs, 8);
      }),
      { numRuns: 1_000 },
    );
  });

  it('have no value without records, and no deviation of a single one', () => {
    expect(FROM_COUNTS.every((fn) => Number.isNaN(aggregateOfCounts(fn, [], 0.5)))).toBe(true);
    expect(FROM_COUNTS.every((fn) => Number.isNaN(aggregateOfCounts(fn, [{ value: 3, count: 0 }], 0.5)))).toBe(true);
    const one = [{ value: 3, count: 1 }];
    expect(aggregateOfCounts('stddev', one, 0.5)).toBeNaN();
    expect(aggregateOfCounts('variance', one, 0.5)).toBeNaN();
    expect([aggregateOfCounts('stddev_pop', one, 0.5), aggregateOfCounts('median', one, 0.5)]).toEqual([0, 3]);
  });

  // Method 7 of Hyndman and Fan (1996): the place (n − 1) p of the values in order, between two of them in proportion.
  it('find percentiles between values, as the definition says', () => {
    const values = [
      { value: 40, count: 1 },
      { value: 10, count: 2 },
      { value: 20, count: 1 },
    ];
    expect([0, 0.25, 0.5, 0.75, 1].map((fraction) => aggregateOfCounts('percentile', values, fraction))).toEqual([10, 10, 15, 25, 40]);
  });
});
