import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isoDate, parseIsoDate } from '../calendar/index.ts';
import { datasetSchema } from '../model/index.ts';
import { columnFrom, QueryError, runQuery, type FrameTarget, type Query, type Store } from './index.ts';

/** Days that count in periods that are not their own: every target against adding its records up one by one. */

const dataset = datasetSchema.parse({
  ...{ schemaVersion: 1, name: 'days', label: 'Days', measures: [] },
  dimensions: [
    {
      ...{ kind: 'calendar', name: 'calendar', label: 'Calendar' },
      levels: [
        { name: 'year', label: 'Year', plural: 'years', period: 'year' },
        { name: 'month', label: 'Month', plural: 'months', period: 'month' },
        { name: 'weekday', label: 'Weekday', plural: 'weekdays', period: 'weekday' },
      ],
    },
  ],
  facts: [
    {
      ...{ name: 'sales', label: 'Sales', record: { one: 'sale', many: 'sales' }, table: 't' },
      links: [{ dimension: 'calendar', column: 'sold' }],
      fields: [
        { name: 'shop', label: 'Shop', column: 'shop', type: 'text' },
        { name: 'amount', label: 'Amount', column: 'amount', type: 'decimal', scale: 2 },
      ],
    },
    { ...{ name: 'notes', label: 'Notes', record: { one: 'note', many: 'notes' }, table: 'n' }, fields: [] },
  ],
});
const FIRST = parseIsoDate('2025-11-20')!;
const DAYS = 80;

interface Sale {
  day: number | null;
  shop: string | null;
  cents: number;
}
const sale: fc.Arbitrary<Sale> = fc.record({
  day: fc.option(fc.integer({ min: 0, max: DAYS - 1 }), { freq: 9, nil: null }),
  shop: fc.option(fc.constantFrom('Elm', 'Fir', 'Yew'), { freq: 9, nil: null }),
  cents: fc.integer({ min: -500, max: 5_000 }),
});

function storeOf(sales: Sale[]): Store {
  return {
    ...{ version: 'days@1', calendar: { first: FIRST, days: DAYS }, dimensions: {}, rollups: {} },
    facts: {
      notes: { rows: 0, columns: {}, links: {} },
      sales: {
        rows: sales.length,
        columns: {
          shop: columnFrom(
            'text',
            sales.map(({ shop }) => shop),
          ),
          amount: columnFrom(
            'decimal',
            sales.map(({ cents }) => (cents / 100).toFixed(2)),
            2,
          ),
        },
        links: { calendar: Int32Array.from(sales, ({ day }) => (day === null ? 0 : day + 1)) },
      },
    },
  };
}

/** Ranges that do not overlap, from days at which they begin and end in turn. */
const ranges = fc
  .uniqueArray(fc.integer({ min: -5, max: DAYS + 5 }), { minLength: 2, maxLength: 6 })
  .map((days) => days.sort((a, b) => a - b))
  .map((days) => Array.from({ length: days.length >> 1 }, (_, index) => [days[index * 2], days[index * 2 + 1] - 1] as const))
  .map((pairs) => pairs.map(([first, last]) => ({ first: FIRST + first, last: FIRST + last })));
const targetsOf = (keys: string[][]): fc.Arbitrary<FrameTarget[]> =>
  fc.tuple(...keys.map((own) => ranges.map((one): FrameTarget => ({ keys: own, ranges: one }))));
const bound = (keys: string[][]): fc.Arbitrary<FrameTarget[]> =>
  fc
    .tuple(...[...['Elm', 'Fir'], null].map((member) => targetsOf(keys).map((list) => ({ member, list }))))
    .map((lists) => lists.flatMap(({ member, list }) => list.map((one) => ({ ...one, within: [{ field: 'shop', member }] }))));

const MONTHS = [['2026-01'], ['2026-02'], ['2025-12']];
const frames = fc.record({
  /** By month, by shop and month, as a whole; and by shop and month where each shop has dates of its own. */
  sets: fc.tuple(targetsOf(MONTHS), targetsOf(MONTHS), targetsOf([[]]), bound(MONTHS)),
});
const SETS = [[1], [0, 1], [], [0, 1]];

describe('a date frame', () => {
  it('adds every record to each target that its day, and its member where one is bound, lies in', () => {
    let counted = 0;
    fc.assert(
      fc.property(fc.array(sale, { maxLength: 120 }), frames, (sales, { sets: targets }) => {
        const query: Query = {
          ...{ fact: 'sales', filter: null, levels: ['shop', 'month'], sets: SETS },
          aggregates: [
            { fn: 'sum', argument: { kind: 'field', name: 'amount' }, where: null },
            { fn: 'median', argument: { kind: 'field', name: 'amount' }, where: null },
          ],
          frame: { calendar: 'calendar', sets: targets },
        };
        const { members, sets } = runQuery(dataset, storeOf(sales), query);
        SETS.forEach((levels, index) => {
          const set = sets[index];
          expect(set.levels).toEqual(levels);
          const found = new Map(
            Array.from({ length: set.size }, (_, group) => [
              JSON.stringify(levels.map((level, at) => (set.keys[at][group] === 0 ? null : members[level][set.keys[at][group] - 1]))),
              { records: set.records[group], sum: set.values[0].values[group], median: set.values[1].values[group] },
            ]),
          );
          const wanted = new Map<string, number[]>();
          for (const { keys, ranges: own, within } of targets[index])
            for (const { day, shop, cents } of sales) {
              if (day === null || !own.some(({ first, last }) => FIRST + day >= first && FIRST + day <= last)) continue;
              if (within && within[0].member !== shop) continue;
              const key = JSON.stringify(levels.map((level) => (level === 0 ? shop : keys[0])));
              wanted.set(key, [...(wanted.get(key) ?? []), cents]);
            }
          // The grand total is there without any record too.
          if (levels.length === 0 && !wanted.has('[]')) wanted.set('[]', []);
          expect([...found.keys()].sort()).toEqual([...wanted.keys()].sort());
          for (const [key, cents] of wanted) {
            counted++;
            const own = found.get(key)!;
            expect(own.records).toBe(cents.length);
            if (cents.length === 0) {
              expect([own.sum, own.median]).toEqual([NaN, NaN]);
              continue;
            }
            expect(Math.round(own.sum * 100)).toBe(cents.reduce((sum, one) => sum + one, 0));
            const sorted = cents.sort((a, b) => a - b);
            const middle = (sorted[(sorted.length - 1) >> 1] + sorted[sorted.length >> 1]) / 2;
            expect(own.median).toBeCloseTo(middle / 100, 9);
          }
        });
      }),
      { numRuns: 200, seed: 26 },
    );
    expect(counted).toBeGreaterThan(1_000);
  });

  it('leaves weekdays as they are: the same Mondays count in another month', () => {
    // 1 December 2025 is a Monday (ISO 8601).
    const sales: Sale[] = [11, 12, 18].map((day) => ({ day, shop: 'Elm', cents: 100 }));
    expect(isoDate(FIRST + 11)).toBe('2025-12-01');
    const december = [{ first: FIRST + 11, last: FIRST + 41 }];
    const query: Query = {
      ...{ fact: 'sales', filter: null, levels: ['weekday', 'month'], sets: [[0, 1]], aggregates: [] },
      frame: { calendar: 'calendar', sets: [[{ keys: ['2026-01'], ranges: december }]] },
    };
    const { members, sets } = runQuery(dataset, storeOf(sales), query);
    const [set] = sets;
    const rows = Array.from({ length: set.size }, (_, group) => [
      members[0][set.keys[0][group] - 1],
      members[1][set.keys[1][group] - 1],
      set.records[group],
    ]);
    expect(rows.sort()).toEqual([
      ['1', '2026-01', 2],
      ['2', '2026-01', 1],
    ]);
  });

  it('is refused for a fact without dates of its calendar', () => {
    const query: Query = {
      fact: 'notes',
      filter: null,
      levels: [],
      sets: [[]],
      aggregates: [],
      frame: { calendar: 'calendar', sets: [[]] },
    };
    expect(() => runQuery(dataset, storeOf([]), query)).toThrow(QueryError);
  });
});
