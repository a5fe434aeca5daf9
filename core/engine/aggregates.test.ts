import fc from 'fast-check';
import { mean, sampleStandardDeviation, sampleVariance } from 'simple-statistics';
import { describe, expect, it } from 'vitest';
import { AGGREGATE_NAMES, aggregateTraits, datasetSchema } from '../model/index.ts';
import { aggregateOfValues, aggregates, mergeOf, modeOf, percentileOf } from './aggregates.ts';
import type { AggregateName } from '../model/index.ts';
import { columnFrom, compareText, runQuery, type Store } from './index.ts';
import { likeTest } from './text.ts';

const dataset = datasetSchema.parse({
  schemaVersion: 1,
  name: 'one',
  label: 'One',
  dimensions: [],
  facts: [
    {
      name: 'facts',
      label: 'Facts',
      record: { one: 'fact', many: 'facts' },
      table: 't',
      fields: [{ name: 'x', label: 'X', column: 'x', type: 'decimal', scale: 3 }],
    },
  ],
  measures: [],
});

function aggregate(fn: AggregateName, values: (number | null)[], scale = 3): number {
  const store: Store = {
    version: 'x',
    calendar: { first: 0, days: 0 },
    dimensions: {},
    rollups: {},
    facts: { facts: { rows: values.length, columns: { x: columnFrom('decimal', values, scale) }, links: {} } },
  };
  const result = runQuery(dataset, store, {
    fact: 'facts',
    filter: null,
    levels: [],
    sets: [[]],
    aggregates: [{ fn, argument: { kind: 'field', name: 'x' }, where: null }],
  });
  return result.sets[0].values[0].values[0];
}

/** First value, then low and high in turn, a thousand times: how the NumAcc sets are made. */
const alternating = (first: number, low: number, high: number): number[] => [
  first,
  ...Array.from({ length: 1_000 }, (_, index) => (index % 2 === 0 ? low : high)),
];

describe('NIST Statistical Reference Datasets, univariate summary statistics', () => {
  // https://www.itl.nist.gov/div898/strd/univ/homepage.html; data and certified values from memory.
  it.each([
    ['NumAcc1', [10_000_001, 10_000_003, 10_000_002], 10_000_002, 1],
    ['NumAcc2', alternating(1.2, 1.1, 1.3), 1.2, 0.1],
    ['NumAcc3', alternating(1_000_000.2, 1_000_000.1, 1_000_000.3), 1_000_000.2, 0.1],
    ['NumAcc4', alternating(10_000_000.2, 10_000_000.1, 10_000_000.3), 10_000_000.2, 0.1],
  ])('%s', (_name, values, certifiedMean, certifiedDeviation) => {
    expect(aggregate('avg', values)).toBeCloseTo(certifiedMean, 9);
    // Scaled integers keep what doubles lose: all certified digits, where 8 are common for NumAcc4.
    expect(aggregate('stddev', values)).toBeCloseTo(certifiedDeviation, 12);
  });
});

describe('aggregates', () => {
  const values = fc.array(
    fc.integer({ min: -1_000_000, max: 1_000_000 }).map((units) => units / 1_000),
    { minLength: 2, maxLength: 50 },
  );

  it('agree with a reference library', () => {
    fc.assert(
      fc.property(values, (numbers) => {
        expect(aggregate('avg', numbers)).toBeCloseTo(mean(numbers), 8);
        expect(aggregate('stddev', numbers)).toBeCloseTo(sampleStandardDeviation(numbers), 8);
        expect(aggregate('variance', numbers) / Math.max(1, sampleVariance(numbers))).toBeCloseTo(
          sampleVariance(numbers) / Math.max(1, sampleVariance(numbers)),
          8,
        );
      }),
      { seed: 5 },
    );
  });

  it('sum to the cent whatever the order', () => {
    fc.assert(
      fc.property(values, (numbers) => {
        const exact = numbers.reduce((sum, value) => sum + BigInt(Math.round(value * 1_000)), 0n);
        expect(aggregate('sum', numbers)).toBe(Number(exact) / 1_000);
        expect(aggregate('sum', [...numbers].reverse())).toBe(Number(exact) / 1_000);
      }),
      { seed: 6 },
    );
  });

  it('skip missing values', () => {
    expect(aggregate('avg', [1, null, 3])).toBe(2);
    expect(aggregate('count', [1, null, 3])).toBe(2);
    expect(aggregate('sum', [null, null])).toBeNaN();
    expect(aggregate('count_distinct', [null, 2, 2, 3])).toBe(2);
    expect(aggregate('stddev', [4])).toBeNaN();
    expect(aggregate('stddev_pop', [4])).toBe(0);
  });

  it('interpolate percentiles as the worked example of Hyndman and Fan, method 7', () => {
    // Definition: position p(n - 1) + 1 among the ordered values.
    expect(percentileOf(Float64Array.of(15, 20, 35, 40, 50), 0.4)).toBeCloseTo(29, 12);
    expect(percentileOf(Float64Array.of(1, 2, 3, 4), 0.5)).toBe(2.5);
    expect(percentileOf(Float64Array.of(7), 0.9)).toBe(7);
  });

  it('take the smallest of several modes', () => {
    expect(modeOf(Float64Array.of(1, 2, 2, 3, 3))).toBe(2);
    expect(aggregates.mode.kind).toBe('holistic');
  });
});

describe('aggregates of values that are given one by one', () => {
  const values = fc.array(fc.integer({ min: -1_000, max: 1_000 }), { minLength: 1, maxLength: 20 }).map((own) => Float64Array.from(own));
  const of = (fn: AggregateName, own: Float64Array): number => aggregateOfValues(fn, own, 0.5);

  it('are merged from those of two parts where their traits say so, and only there', () => {
    const merged = AGGREGATE_NAMES.filter((fn) => aggregateTraits(fn).running === 'merge');
    expect(merged).toEqual(['sum', 'min', 'max', 'count']);
    for (const fn of AGGREGATE_NAMES.filter((one) => !merged.includes(one))) expect(() => mergeOf(fn), fn).toThrow(TypeError);
    fc.assert(
      fc.property(fc.constantFrom(...merged), values, values, (fn, a, b) => {
        expect(mergeOf(fn)(of(fn, a), of(fn, b))).toBe(of(fn, Float64Array.of(...a, ...b)));
      }),
    );
  });

  it('add up over parts exactly where their traits say so', () => {
    const [a, b] = [Float64Array.of(1, 2, 2, 9), Float64Array.of(2, 4, 4, 31)];
    const both = Float64Array.of(...a, ...b);
    const additive = AGGREGATE_NAMES.filter((fn) => Math.abs(of(fn, a) + of(fn, b) - of(fn, both)) < 1e-9);
    expect(additive).toEqual(AGGREGATE_NAMES.filter((fn) => aggregateTraits(fn).additive));
  });

  it('are none without values, but for those that count', () => {
    for (const fn of AGGREGATE_NAMES) expect(of(fn, new Float64Array()), fn).toBe(aggregateTraits(fn).counts ? 0 : Number.NaN);
  });
});

describe('texts', () => {
  it('are ordered by code point, as UTF-8 bytes are', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), fc.string({ unit: 'binary' }), (a, b) => {
        const bytes = Buffer.compare(Buffer.from(a, 'utf8'), Buffer.from(b, 'utf8'));
        expect(Math.sign(compareText(a, b))).toBe(bytes);
      }),
      { seed: 7 },
    );
  });

  it.each([
    ['a%', 'abc', true],
    ['_b_', 'abc', true],
    ['_', '𝄞', true],
    ['50\\%', '50%', true],
    ['50\\%', '500', false],
    ['(a|b)*', 'a', false],
    ['%', '', true],
  ])('LIKE %j on %j is %s', (pattern, text, expected) => {
    expect(likeTest(pattern)(text)).toBe(expected);
  });
});
