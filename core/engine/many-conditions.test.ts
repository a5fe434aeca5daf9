import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  WIDE_FIELDS,
  WIDE_LETTERS,
  WIDE_RECORDS,
  wideAmount,
  wideDataset,
  wideLetter,
  wideQuery,
  wideStore,
} from '../testing/wide-example.ts';
import { countShared, planQuery, runQuery, runSplitQuery, type RecordRange } from './index.ts';

const field = fc.integer({ min: 0, max: WIDE_FIELDS.length - 1 });
const condition = fc.record({ field, values: fc.subarray([...WIDE_LETTERS], { minLength: 1, maxLength: 2 }) });
const conditions = fc.uniqueArray(condition, { minLength: 8, maxLength: 40, size: 'max', selector: (one) => one.field });
const records = fc.array(fc.integer({ min: 0, max: WIDE_RECORDS - 1 }), { minLength: 1, maxLength: 200 });

/** Sum, distinct count and median as one would work them out by hand. */
function figuresOf(amounts: number[]): number[] {
  if (amounts.length === 0) return [0, Number.NaN, 0, Number.NaN];
  const sorted = [...amounts].sort((a, b) => a - b);
  const middle = sorted.length / 2;
  const median = (sorted[Math.ceil(middle) - 1] + sorted[Math.floor(middle)]) / 2;
  return [amounts.length, amounts.reduce((sum, amount) => sum + amount, 0), new Set(amounts).size, median];
}

describe('a record that any condition leaves out is left out', () => {
  it('with up to 40 conditions, whatever the levels, in one piece or in parts', async () => {
    let leftOutByMany = 0;
    await fc.assert(
      fc.asyncProperty(records, conditions, fc.uniqueArray(field, { maxLength: 3 }), async (all, chosen, levels) => {
        const failed = (record: number): number => chosen.filter((one) => !one.values.includes(wideLetter(record, one.field))).length;
        if (all.some((record) => failed(record) >= 16)) leftOutByMany++;
        const expected = new Map<string, number[]>(levels.length === 0 ? [['', []]] : []);
        for (const record of all.filter((one) => failed(one) === 0)) {
          const key = levels.map((level) => wideLetter(record, level)).join();
          expected.set(key, [...(expected.get(key) ?? []), wideAmount(record)]);
        }
        const [store, query] = [wideStore(all), wideQuery(chosen, levels)];
        const answer = runQuery(wideDataset, store, query);
        const [set] = answer.sets;
        const found = Array.from({ length: set.size }, (_, group): [string, number[]] => [
          set.keys.map((codes, at) => answer.members[at][codes[group] - 1]).join(),
          [set.records[group], ...set.values.map(({ values }) => values[group])],
        ]);
        expect(new Map(found)).toEqual(new Map([...expected].map(([key, amounts]) => [key, figuresOf(amounts)])));
        const elsewhere = (range: RecordRange) => Promise.resolve(countShared(wideDataset, store, query, range));
        expect(await runSplitQuery(planQuery(wideDataset, store, query), elsewhere, 3)).toEqual(answer);
      }),
      { numRuns: 300, seed: 31 },
    );
    expect(leftOutByMany).toBeGreaterThan(100);
  });

  it('where sums alone are asked for, and all records of a block are passed through, however many count', () => {
    const few = fc.uniqueArray(condition, { minLength: 1, maxLength: 3, selector: (one) => one.field });
    fc.assert(
      fc.property(records, few, (all, chosen) => {
        const query = wideQuery(chosen, []);
        const sums = { ...query, aggregates: query.aggregates.filter(({ fn }) => fn === 'sum') };
        const left = all.filter((record) => chosen.every((one) => one.values.includes(wideLetter(record, one.field))));
        const [set] = runQuery(wideDataset, wideStore(all), sums).sets;
        const total = left.length === 0 ? Number.NaN : left.reduce((sum, record) => sum + wideAmount(record), 0);
        expect([set.records[0], set.values[0].values[0]]).toEqual([left.length, total]);
      }),
      { numRuns: 300 },
    );
  });
});
