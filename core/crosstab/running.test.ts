import fc from 'fast-check';
import { expect, it } from 'vitest';
import { cubeOf, withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { WIDE_RECORDS, wideAmount, wideDataset, wideLetter, wideStore } from '../testing/wide-example.ts';

/** What a running aggregate is: the aggregate itself, over the records of the members so far. Each calculated record by record. */
const distinct = (values: readonly (string | number)[]): number => new Set(values).size;
function median(amounts: readonly number[]): number {
  const sorted = [...amounts].sort((a, b) => a - b);
  const middle = (sorted.length - 1) / 2;
  return (sorted[Math.floor(middle)] + sorted[Math.ceil(middle)]) / 2;
}
function mode(amounts: readonly number[]): number {
  const count = (one: number): number => amounts.filter((amount) => amount === one).length;
  return [...new Set(amounts)].sort((a, b) => count(b) - count(a) || a - b)[0];
}
const letters = (records: readonly number[], field: number): string[] => records.map((record) => wideLetter(record, field));
const EXPECTED: Record<string, (records: number[]) => number> = {
  'running(count_distinct(field_3))': (records) => distinct(letters(records, 3)),
  "running(count_distinct(field_3 where field_4 = 'a'))": (records) =>
    distinct(
      letters(
        records.filter((record) => wideLetter(record, 4) === 'a'),
        3,
      ),
    ),
  'running(median(amount))': (records) => median(records.map(wideAmount)),
  'running(mode(amount))': (records) => mode(records.map(wideAmount)),
  'running(count_distinct(field_3) + median(amount))': (records) => distinct(letters(records, 3)) + median(records.map(wideAmount)),
};
const formulas = Object.keys(EXPECTED);
const dataset = withFormulas(wideDataset, formulas, 'facts');

it('a running aggregate is the aggregate over the records of the members so far, down and across, at every level', async () => {
  const records = fc.array(fc.integer({ min: 0, max: WIDE_RECORDS - 1 }), { minLength: 1, maxLength: 60 });
  await fc.assert(
    fc.asyncProperty(records, async (all) => {
      const cube = await cubeOf(dataset, wideStore(all), {
        ...{ side: ['field_0', 'field_1'], top: ['field_2'], measures: formulas },
      });
      const path = (axis: typeof cube.side, id: number): (string | null)[] => axis.path(id);
      const isIn = (record: number, side: (string | null)[], top: (string | null)[]): boolean =>
        side.every((member, level) => wideLetter(record, level) === member) && top.every((member) => wideLetter(record, 2) === member);
      for (const row of cube.side.nodes.slice(1))
        for (const column of cube.top.nodes) {
          // Where nothing says how they are shown, members follow each other by their names.
          const name = (id: number): string => cube.side.path(id).at(-1)!;
          const siblings = [...cube.side.nodes[row.parent].children].sort((a, b) => name(a).localeCompare(name(b)));
          const sofar = siblings.slice(0, siblings.indexOf(row.id) + 1).map((id) => path(cube.side, id));
          const top = path(cube.top, column.id);
          const own = all.filter((record) => sofar.some((side) => isIn(record, side, top)));
          const shown = (formula: string): number | null => {
            const value = cube.value(formula, row.id, column.id);
            return Number.isNaN(value) ? null : value;
          };
          // Where no record is there is no value, as for every aggregate.
          if (own.length === 0) expect(formulas.map(shown)).toEqual(formulas.map(() => null));
          else expect(formulas.map(shown)).toEqual(formulas.map((formula) => EXPECTED[formula](own)));
        }
    }),
    { numRuns: 40 },
  );
});

it('members that stand in one place of another level count there once', async () => {
  const plain = ['variance(quantity) at region', 'count_distinct(city) at region'];
  const running = plain.map((formula) => `running(${formula})`);
  const cube = await cubeOf(withFormulas(workedDataset, [...plain, ...running], 'sales'), workedStore(), {
    ...{ side: ['region', 'country'], top: [], measures: [...plain, ...running] },
  });
  const countries = cube.side.nodes.filter(({ depth }) => depth === 2);
  expect(countries.length).toBeGreaterThan(2);
  for (const { id } of countries) {
    const [values, ones] = [plain, running].map((formulas) => formulas.map((formula) => cube.value(formula, id, 0)));
    expect(values.every(Number.isFinite)).toBe(true);
    expect(ones).toEqual(values);
  }
});
