import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ColumnsData } from '../answers/index.ts';
import { runQuery } from '../engine/index.ts';
import { axisOver, type Axis, type Crosstab, type Dataset, type Filter } from '../model/index.ts';
import { withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import {
  canAggregateOtherwise,
  conditionsPlan,
  Cube,
  membersThatHold,
  OTHERS,
  pathCondition,
  selectTopMembers,
  planCrosstab,
  planOthers,
  resolvePlan,
  shownValue,
  visibleNodes,
  withAggregate,
  withAggregations,
  type AxisView,
  type CrosstabPlan,
  type SelectedMembers,
  type VisibleNode,
} from './index.ts';

const store = workedStore();
/** Measures that go to other dates or count them: all others and groups have dates too. */
const MOVED = ['net back 1 year', 'to_date(net, year)', 'periods(month)'];
const dataset = withFormulas(workedDataset, MOVED, 'sales');
const ask = (plan: CrosstabPlan, asked: Dataset = dataset): (ReturnType<typeof runQuery> | null)[] =>
  plan.parts.map((part) => (part.query ? runQuery(asked, store, part.query) : null));
const MEASURES = ['net', 'average_price', 'cities_sold'];

/** A cross-tab with its picks, as the server puts it together. */
async function worked(side: Axis, top: Axis, scope: Filter | null = null): Promise<{ cube: Cube; selected: SelectedMembers[] }> {
  const spec = { side, top, cells: [...MEASURES, ...MOVED].map((measure) => ({ measure })), filter: null };
  const data = new ColumnsData(dataset, store);
  const plan = planCrosstab(dataset, spec, scope, { side: side.fields.length, top: top.fields.length });
  await resolvePlan(data, plan);
  const results = ask(plan);
  const cube = new Cube(plan, results, { side: null, top: null });
  const selected = [...selectTopMembers(cube, 'side', side.fields, side.levels), ...selectTopMembers(cube, 'top', top.fields, top.levels)];
  const others = (await planOthers(data, plan, selected)).map((question) => ({ ...question, results: ask(question.plan) }));
  return { cube: new Cube(plan, results, { side: null, top: null }, others), selected };
}

const members = {
  natural: (_level: number, a: string | null, b: string | null) => String(a).localeCompare(String(b)),
  naturalKey: () => null,
  byField: () => 0,
};
const rows = ({ cube, selected }: { cube: Cube; selected: SelectedMembers[] }, axis: Axis, part: Partial<AxisView> = {}): VisibleNode[] =>
  visibleNodes(cube, 'side', { ...axis, open: { depth: 9, exceptions: [] }, order: null, usual: axis.order, selected, ...part }, members);
const words = ({ cube }: { cube: Cube }, shown: VisibleNode[]): string[] =>
  shown.map(({ node, role, summary }) => {
    const { member } = cube.side.nodes[node];
    return summary ?? (role === 'total' ? 'all' : `${role === 'subtotal' ? 'Σ ' : ''}${member === OTHERS ? 'others' : member}`);
  });

describe('members that are selected', () => {
  it('are the largest under each parent, the rest together after them', async () => {
    const axis = axisOver(['region', 'country', 'city'], { levels: { city: { subtotal: true, pick: pick({ count: 1 }) } } });
    const table = await worked(axis, axisOver([]));
    expect(words(table, rows(table, axis))).toEqual([
      'Atlantic',
      'France',
      'Lyon',
      'Nordic',
      'Denmark',
      'Aarhus',
      'Sweden',
      'Malmö',
      'others',
      'all',
    ]);
  });
  it('or the largest of all, or the smallest, with the rest left out', async () => {
    const ofAll = axisOver(['region', 'city'], {
      levels: { city: { subtotal: true, pick: pick({ count: 2, per: 'all', others: false }) } },
    });
    const table = await worked(ofAll, axisOver([]));
    expect(words(table, rows(table, ofAll))).toEqual(['Atlantic', 'Lyon', 'Nordic', 'Malmö', 'all']);
    const smallest = axisOver(['city'], { levels: { city: { subtotal: true, pick: pick({ count: 1, from: 'bottom', others: false }) } } });
    const other = await worked(smallest, axisOver([]));
    expect(words(other, rows(other, smallest, { total: 'never' }))).toEqual(['Aarhus']);
  });
  it('leave totals as they are, and others are calculated from their own records, on both axes', async () => {
    const fields = fc.constantFrom<string[]>(['region', 'city'], ['city'], ['country', 'city'], ['region', 'country', 'city']);
    const times = fc.constantFrom<string[]>([], ['year'], ['quarter'], ['year', 'month']);
    const picks = fc.record({
      count: fc.integer({ min: 1, max: 3 }),
      from: fc.constantFrom('top' as const, 'bottom' as const),
      per: fc.constantFrom('parent' as const, 'all' as const),
      measure: fc.constantFrom(...MEASURES),
    });
    await fc.assert(
      fc.asyncProperty(fields, times, picks, fc.boolean(), async (side, top, part, alsoTop) => {
        const last = (names: string[], on: boolean): Partial<Axis> =>
          on && names.length > 0 ? { levels: { [names.at(-1)!]: { subtotal: true, pick: pick(part) } } } : {};
        const table = await worked(axisOver(side, last(side, true)), axisOver(top, last(top, alsoTop)));
        const plain = await worked(axisOver(side), axisOver(top));
        for (const measure of MEASURES) expect(table.cube.value(measure, 0, 0)).toBe(plain.cube.value(measure, 0, 0));
        const along = (which: 'side' | 'top'): { id: number; condition: Filter | null }[] =>
          table.cube[which].nodes
            .filter(({ member }) => member === OTHERS)
            .map(({ id }) => ({
              id,
              condition: pathCondition(
                which === 'side' ? side : top,
                table.cube[which].path(id),
                table.selected.filter((one) => one.which === which),
              ),
            }));
        const [sides, tops] = [along('side'), along('top')];
        const places = [
          ...sides.map((row) => ({ row: row.id, column: 0, conditions: [row.condition] })),
          ...tops.map((column) => ({ row: 0, column: column.id, conditions: [column.condition] })),
          ...sides.flatMap((row) =>
            tops.map((column) => ({ row: row.id, column: column.id, conditions: [row.condition, column.condition] })),
          ),
        ];
        for (const { row, column, conditions } of places) {
          const filter: Filter = { op: 'and', items: conditions.filter((one): one is Filter => one !== null) };
          const direct = (await worked(axisOver([]), axisOver([]), filter)).cube;
          for (const measure of [...MEASURES, ...MOVED]) {
            expect(table.cube.value(measure, row, column), `${measure} of others`).toBe(direct.value(measure, 0, 0));
          }
        }
      }),
      { seed: 21, numRuns: 150 },
    );
  });
});

function pick(part: object): NonNullable<Axis['levels'][string]['pick']> {
  return { count: 1, from: 'top', measure: 'net', at: [], per: 'parent', others: true, ...part };
}

describe('how an axis is laid out', () => {
  const fields = ['region', 'country'];
  it('puts subtotals after their members where levels are columns, before them, or leaves them out', async () => {
    const columns = axisOver(fields, { layout: 'columns' });
    const table = await worked(columns, axisOver([]));
    expect(words(table, rows(table, columns))).toEqual(['France', 'Σ Atlantic', 'Denmark', 'Sweden', 'Σ Nordic', 'all']);
    expect(words(table, rows(table, columns, { totalPlace: 'before' }))).toEqual([
      'all',
      'Σ Atlantic',
      'France',
      'Σ Nordic',
      'Denmark',
      'Sweden',
    ]);
    const without = axisOver(fields, { layout: 'columns', levels: { region: { subtotal: false } }, total: 'never' });
    expect(words(table, rows(table, without))).toEqual(['France', 'Denmark', 'Sweden']);
    const bare = axisOver(fields, { levels: { region: { subtotal: false } } });
    expect(
      rows(table, bare)
        .filter((row) => row.bare)
        .map(({ depth }) => depth),
    ).toEqual([1, 1]);
  });
  it('puts the subtotals of a level before or after its members, whatever the other levels do', async () => {
    const after = axisOver(fields, { levels: { region: { subtotal: true, subtotalPlace: 'after' } } });
    const table = await worked(after, axisOver([]));
    const shown = rows(table, after);
    expect(words(table, shown)).toEqual(['Atlantic', 'France', 'Σ Atlantic', 'Nordic', 'Denmark', 'Sweden', 'Σ Nordic', 'all']);
    const total: VisibleNode = { node: 0, role: 'total', depth: 0, open: false, canOpen: false, parts: [] };
    const net = shown.map((row) => shownValue(table.cube, { measure: 'net' }, row, total));
    // The line above the members is bare, and their subtotal adds them up.
    expect([net[0], net[3]]).toEqual([Number.NaN, Number.NaN]);
    expect([net[2], net[6]]).toEqual([net[1], net[4] + net[5]]);
    const columns = axisOver(fields, { layout: 'columns', levels: { region: { subtotal: true, subtotalPlace: 'before' } } });
    expect(words(table, rows(table, columns))).toEqual(['Σ Atlantic', 'France', 'Σ Nordic', 'Denmark', 'Sweden', 'all']);
    const closed = rows(table, after, { open: { depth: 0, exceptions: [] } });
    expect(words(table, closed)).toEqual(['Atlantic', 'Nordic', 'all']);
    expect(closed.some(({ bare }) => bare)).toBe(false);
  });
  it('orders each level in its own way: by hand, by a measure, by labels', async () => {
    const axis = axisOver(fields, {
      levels: {
        region: { subtotal: true, order: { by: 'hand', members: ['Nordic'] } },
        country: { subtotal: true, order: { by: 'measure', measure: 'net', at: [], direction: 'desc' } },
      },
    });
    const table = await worked(axis, axisOver([]));
    expect(words(table, rows(table, axis))).toEqual(['Nordic', 'Sweden', 'Denmark', 'Atlantic', 'France', 'all']);
    expect(words(table, rows(table, axis, { order: { by: 'label', direction: 'desc' } }))).toEqual([
      'Nordic',
      'Sweden',
      'Denmark',
      'Atlantic',
      'France',
      'all',
    ]);
  });
  it('ends with lines calculated of the members that are shown', async () => {
    const axis = axisOver(fields, { summaries: ['average', 'largest'] });
    const table = await worked(axis, axisOver([]));
    const shown = rows(table, axis, { open: { depth: 0, exceptions: [] } });
    expect(words(table, shown)).toEqual(['Atlantic', 'Nordic', 'average', 'largest', 'all']);
    const total: VisibleNode = { node: 0, role: 'total', depth: 0, open: false, canOpen: false, parts: [] };
    const net = shown.map((row) => shownValue(table.cube, { measure: 'net' }, row, total));
    expect(net[2]).toBe((net[0] + net[1]) / 2);
    expect(net[3]).toBe(Math.max(net[0], net[1]));
  });
  it('lets one measure have no totals, or those of what is shown', async () => {
    const axis = axisOver(fields);
    const table = await worked(axis, axisOver([]));
    const shown = rows(table, axis);
    const total: VisibleNode = { node: 0, role: 'total', depth: 0, open: false, canOpen: false, parts: [] };
    const of = (totals: 'none' | 'sum' | undefined): number[] =>
      shown.map((row) => shownValue(table.cube, { measure: 'average_price', totals }, row, total));
    const [atlantic, france, nordic, denmark, sweden, all] = of('sum');
    expect([atlantic, nordic]).toEqual([france, denmark + sweden]);
    expect(all).toBe(atlantic + nordic);
    expect(of('none')[5]).toBeNaN();
    expect(of('none')[1]).toBe(france);
  });
});

describe('conditions on measures', () => {
  const held = (condition: Crosstab['conditions'][number]): Filter => {
    const plan = conditionsPlan(workedDataset, condition, null);
    return membersThatHold(new Cube(plan, ask(plan), { side: null, top: null }), condition);
  };
  it('keep members by their own value, or by the average of all', async () => {
    expect(held({ field: 'country', measure: 'net', op: 'gt', value: 0 })).toEqual({
      op: 'in',
      field: 'country',
      values: ['Denmark', 'France', 'Sweden'],
    });
    const cube = (await worked(axisOver(['country']), axisOver([]))).cube;
    const nodes = cube.side.nodes.slice(1);
    const values = nodes.map(({ id }) => cube.value('net', id, 0));
    const average = values.reduce((sum, value) => sum + value, 0) / values.length;
    expect(held({ field: 'country', measure: 'net', op: 'ge', value: 'average' })).toEqual({
      ...{ op: 'in', field: 'country' },
      values: nodes
        .filter((_, index) => values[index] >= average)
        .map(({ member }) => member)
        .sort(),
    });
  });
});

describe('a measure counted in another way', () => {
  it('stands beside itself under a name of its own', () => {
    const exhibit = { cells: [{ measure: 'net' }, { measure: 'net', aggregation: 'max' as const }] } as Crosstab;
    const own = withAggregations(workedDataset, exhibit);
    expect(own.exhibit.cells.map(({ measure }) => measure)).toEqual(['net', 'net (max)']);
    expect(own.dataset.measures.at(-1)).toMatchObject({ name: 'net (max)', formula: expect.stringMatching(/^max\(/) as string });
    expect(withAggregations(workedDataset, exhibit).dataset).toBe(own.dataset);
    const plan = planCrosstab(own.dataset, { side: axisOver([]), top: axisOver([]), cells: own.exhibit.cells, filter: null }, null, {
      side: 0,
      top: 0,
    });
    const cube = new Cube(plan, ask(plan, own.dataset), { side: null, top: null });
    expect(cube.value('net (max)', 0, 0)).toBeLessThan(cube.value('net', 0, 0));
  });
  it('takes the place of a single aggregate, whatever its value is and however it is written', () => {
    expect(['sum(a)', 'SUM( a )', 'avg(a * (b + 1))', "sum(a where b = 'x')"].map((one) => withAggregate(one, 'median'))).toEqual([
      'median(a)',
      'median(a)',
      'median(a * (b + 1))',
      "median(a where b = 'x')",
    ]);
    expect(['count()', 'round(a)', 'percentile(a, 0.5)', 'a + b', '('].map((one) => withAggregate(one, 'median'))).toEqual([
      'count()',
      'round(a)',
      'percentile(a, 0.5)',
      'a + b',
      '(',
    ]);
  });
  it('is told from arithmetic, which has no single aggregate', () => {
    expect(['sum(a)', 'sum(a * b)', 'count()', 'sum(a) / count()', 'net / goal', '('].map(canAggregateOtherwise)).toEqual([
      true,
      true,
      false,
      false,
      false,
      false,
    ]);
  });
});
