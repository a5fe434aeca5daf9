import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { crosstabRequestSchema, type CrosstabResponse } from '../api/index.ts';
import { parsePathKey, pathKey } from '../crosstab/index.ts';
import type { Query } from '../engine/index.ts';
import { crosstabSchema, type Crosstab } from '../model/index.ts';
import { withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, type AnswerContext } from './index.ts';

const FORMULAS = ['share(net)', 'net back 1 year', 'rank(net)', 'net at region', 'count_distinct(city)', 'avg(net per channel)'];
const dataset = withFormulas(workedDataset, [...FORMULAS, 'closing(quantity)', 'to_date(net, year)'], 'sales');
const store = workedStore();

/** The worked example, which records the queries it is asked. */
class RecordingData extends ColumnsData {
  readonly queries: Query[] = [];
  override query = (query: Query) => {
    this.queries.push(query);
    return new ColumnsData(dataset, store).query(query);
  };
}

interface Asked {
  depth: number;
  exceptions: string[];
  hideEmpty?: boolean;
}
/** A table as it stands open, in one who asks of others before it; with all that was asked of the records. */
async function crosstabAt(exhibit: Crosstab, asked: Asked[]): Promise<{ shown: CrosstabResponse; queries: Query[] }> {
  const data = new RecordingData(dataset, store);
  const context: AnswerContext = {
    ...{ dataset, data, tables: new Map(), locale: 'en-GB', report: () => Promise.resolve(null) },
  };
  const question = EXHIBIT_QUESTIONS.find(({ path }) => path === 'crosstab')!;
  const rows = { from: 0, count: 400 };
  let shown: CrosstabResponse | undefined;
  for (const { depth, exceptions, hideEmpty = true } of asked) {
    data.queries.length = 0;
    const side = { open: { depth, exceptions }, order: null, hideEmpty };
    const top = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
    const request = crosstabRequestSchema.parse({ side, top, rows, columns: rows });
    shown = (await question.answer(context, exhibit, { scope: {}, where: null }, question.request.parse(request))) as CrosstabResponse;
  }
  return { shown: { ...shown!, milliseconds: 0 }, queries: data.queries };
}

const crosstab = (side: string[], measures: string[], part: object = {}): Crosstab =>
  crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', cells: measures.map((measure) => ({ measure })) },
    ...{ side: { fields: side, ...part }, top: { fields: ['year'] } },
  });
const keysOf = (length: number, paths: string[][]): string[] => paths.filter((path) => path.length === length).map(pathKey);
/** So many members that are nowhere: with these a level is asked for as a whole. */
const NOWHERE = Array.from({ length: 41 }, (_, index) => `nowhere ${index}`);
const REGIONS = ['Nordic', 'Atlantic', 'Central'];
const COUNTRIES = [
  ['Nordic', 'Sweden'],
  ['Nordic', 'Denmark'],
  ['Atlantic', 'France'],
  ['Central', 'Austria'],
];

describe('a member that is opened', () => {
  it('is asked for its children, and nothing else is asked again', async () => {
    const exhibit = crosstab(['region', 'country', 'city'], ['net', 'goal']);
    const { queries, shown } = await crosstabAt(exhibit, [
      { depth: 0, exceptions: [] },
      { depth: 0, exceptions: [pathKey(['Nordic'])] },
    ]);
    expect(queries.length).toBeGreaterThan(0);
    for (const { levels, filter } of queries) {
      expect(levels).toContain('country');
      expect(JSON.stringify(filter)).toContain('{"op":"in","field":"region","values":["Nordic"]}');
    }
    expect(shown.rows.items.map(({ path }) => path)).toContainEqual(['Nordic', 'Sweden']);
    expect(shown.rows.items.map(({ path }) => path)).not.toContainEqual(['Atlantic', 'France']);
  });

  it.each([
    ['a rank in the column', crosstab(['region', 'country'], ['rank(net)'])],
    [
      'members that are selected',
      crosstab(['region', 'country'], ['net'], { levels: { country: { pick: { count: 1, measure: 'net' } } } }),
    ],
  ])('is not asked for alone where something goes by members of others: %s', async (_, exhibit) => {
    const { queries } = await crosstabAt(exhibit, [{ depth: 0, exceptions: [pathKey(['Nordic'])] }]);
    expect(queries.some(({ levels, filter }) => levels.includes('country') && !JSON.stringify(filter).includes('Nordic'))).toBe(true);
  });

  it('shows what it shows where its whole level is asked for, whatever is open, measured and summarised', async () => {
    let alone = 0;
    const arbitrary = fc.record({
      side: fc.shuffledSubarray(['region', 'country', 'city', 'channel'], { minLength: 2 }),
      measures: fc.subarray(['net', 'goal', 'average_price', 'cities_sold', ...FORMULAS], { minLength: 1, maxLength: 3 }),
      depth: fc.nat(1),
      opened: fc.subarray([...REGIONS.map((region) => [region]), ...COUNTRIES], { maxLength: 5 }),
      totals: fc.constantFrom(undefined, 'average', 'sum'),
      layout: fc.constantFrom('tree', 'columns'),
      summaries: fc.constantFrom([], ['average', 'count']),
      hideEmpty: fc.boolean(),
      marks: fc.constantFrom<object[]>(
        [],
        [{ kind: 'bar' }],
        [{ kind: 'shade', scale: 'table' }],
        [{ kind: 'shade', scale: 'siblings', colours: 'two' }],
        [{ kind: 'arrow', along: 'rows' }],
        [{ kind: 'sparkline', field: 'quarter', scale: 'common' }],
        [{ kind: 'rule', formula: 'net > average_price' }],
        [{ kind: 'rule', formula: 'rank(net) = 1' }],
      ),
      indicator: fc.constantFrom<object | undefined>(
        undefined,
        { against: { kind: 'average' }, onCourse: 1 },
        { against: { kind: 'none' }, by: 'spread', onCourse: 0.67 },
      ),
      conditions: fc.constantFrom([], [{ field: 'country', measure: 'net', op: 'ge', value: 'average' }]),
      order: fc.constantFrom<object | undefined>(undefined, { by: 'measure', measure: 'net', at: ['2026'], direction: 'desc' }),
    });
    await fc.assert(
      fc.asyncProperty(arbitrary, async ({ side, measures, depth, opened, totals, hideEmpty, marks, indicator, conditions, ...axis }) => {
        const exhibit = crosstabSchema.parse({
          ...crosstab(side, measures, axis),
          ...{ cells: measures.map((measure) => ({ measure, totals, marks, indicator })), conditions },
        });
        const exceptions = [...keysOf(1, opened), ...keysOf(2, opened)];
        // Members that are nowhere must not call for a level that nothing else calls for.
        fc.pre(exceptions.some((key) => parsePathKey(key).length > depth));
        const phantoms = NOWHERE.map((name) => pathKey([...Array.from({ length: depth }, () => name), name]));
        const own = await crosstabAt(exhibit, [{ depth, exceptions, hideEmpty }]);
        const all = await crosstabAt(exhibit, [{ depth, exceptions: [...exceptions, ...phantoms], hideEmpty }]);
        expect(own.shown).toEqual(all.shown);
        if (JSON.stringify(own.queries) !== JSON.stringify(all.queries)) alone++;
        // The same after its table was seen closed.
        expect(
          (
            await crosstabAt(exhibit, [
              { depth, exceptions: [], hideEmpty },
              { depth, exceptions, hideEmpty },
            ])
          ).shown,
        ).toEqual(all.shown);
      }),
      { numRuns: 200 },
    );
    expect(alone).toBeGreaterThan(20);
  });

  it('is a period as well as any other member', async () => {
    const measures = ['net', 'net back 1 year', 'closing(quantity)', 'to_date(net, year)'];
    for (const measure of measures) {
      const exhibit = { ...crosstab(['year', 'quarter', 'month'], [measure]), top: crosstab(['channel'], [measure]).side };
      const exceptions = [pathKey(['2026'])];
      const own = await crosstabAt(exhibit, [{ depth: 0, exceptions }]);
      const all = await crosstabAt(exhibit, [{ depth: 0, exceptions: [...exceptions, ...NOWHERE.map((name) => pathKey([name]))] }]);
      expect(own.shown).toEqual(all.shown);
      expect(own.shown.rows.items.some(({ path }) => path.length === 2 && path[0] === '2026')).toBe(true);
    }
  });
});
