import { describe, expect, it } from 'vitest';
import { ColumnsData } from '../answers/index.ts';
import { runQuery, type QueryResult } from '../engine/index.ts';
import { axisOver, type Axis, type Dataset, type Filter } from '../model/index.ts';
import { cubeOf, withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { Cube, groupKey, OTHERS, planCrosstab, planOthers, resolvePlan, selectTopMembers, type CrosstabPlan } from './index.ts';

const store = workedStore();

/** A cross-tab with what is selected on its axes, as the server puts it together. */
async function arranged(formulas: string[], side: Axis, top: Axis): Promise<Cube> {
  const dataset: Dataset = withFormulas(workedDataset, formulas, 'sales');
  const cells = ['net', ...formulas].map((measure) => ({ measure }));
  const plan = planCrosstab(dataset, { side, top, cells, filter: null }, null, {
    side: side.fields.length,
    top: top.fields.length,
  });
  const data = new ColumnsData(dataset, store);
  await resolvePlan(data, plan);
  const ask = (own: CrosstabPlan): (QueryResult | null)[] => own.parts.map(({ query }) => (query ? runQuery(dataset, store, query) : null));
  const results = ask(plan);
  const plain = new Cube(plan, results, { side: null, top: null });
  const selected = [
    ...selectTopMembers(plain, 'side', side.fields, side.levels),
    ...selectTopMembers(plain, 'top', top.fields, top.levels),
  ];
  const others = (await planOthers(data, plan, selected)).map((question) => ({ ...question, results: ask(question.plan) }));
  return new Cube(plan, results, { side: null, top: null }, others);
}
const largest = (field: string): Axis['levels'] =>
  axisOver([], {
    levels: { [field]: { subtotal: true, pick: { count: 1, from: 'top', measure: 'net', at: [], per: 'all', others: true } } },
  }).levels;

/** A value, rounded, at a place; null where there is none. */
function at(cube: Cube, measure: string, side: string[], top: string[]): number | null {
  const [row, column] = [cube.side.find(side), cube.top.find(top)];
  const value = row && column ? cube.value(measure, row.id, column.id) : Number.NaN;
  return Number.isNaN(value) ? null : Math.round(value * 10_000) / 10_000;
}

describe('formulas beside all others', () => {
  // 2026: Sweden 900, Denmark 250, France 900; 2025: 500, 200, 500. Sweden and France are equal; one is shown.
  it('shares of shown members and all others are the whole, and others have a last year of their own', async () => {
    const formulas = [
      'share(net, of: column)',
      'net back 1 year',
      'growth(net, 1 year)',
      'count_distinct(city) back 1 year',
      'to_date(net, year)',
    ];
    const cube = await arranged(formulas, axisOver(['country'], { levels: largest('country') }), axisOver(['year']));
    const shown = cube.side.nodes.filter(({ depth, member }) => depth === 1 && member !== OTHERS).map(({ member }) => member!);
    const chosen = shown.filter((member) => at(cube, 'net', [member], []) === at(cube, 'net', ['Sweden'], []) || member === 'France');
    expect(chosen.length).toBeGreaterThan(0);
    const own = at(cube, 'net', ['France'], ['2026'])!;
    const rest = at(cube, 'net', [OTHERS], ['2026'])!;
    expect(own + rest).toBe(2050);
    expect(at(cube, 'share(net, of: column)', ['France'], ['2026'])! + at(cube, 'share(net, of: column)', [OTHERS], ['2026'])!).toBeCloseTo(
      1,
      3,
    );
    expect(at(cube, 'net back 1 year', [OTHERS], ['2026'])).toBe(700);
    expect(at(cube, 'growth(net, 1 year)', [OTHERS], ['2026'])).toBe(0.6429);
    expect(at(cube, 'count_distinct(city) back 1 year', [OTHERS], ['2026'])).toBe(3);
    expect(at(cube, 'to_date(net, year)', [OTHERS], ['2026'])).toBe(rest);
  });
});

describe('balances', () => {
  const formulas = ['closing(quantity)', 'opening(quantity)', 'closing(quantity) back 1 year'];
  const [closing, opening, closingBefore] = formulas;

  it('go by the dates of their column, whatever else than dates stands there, for all rows alike', async () => {
    const cube = await cubeOf(withFormulas(workedDataset, formulas, 'sales'), store, {
      ...{ side: ['channel'], top: ['year', 'city'] },
      measures: formulas,
    });
    expect(['Stockholm', 'Malmö', 'Aarhus', 'Lyon'].map((city) => at(cube, closing, [], ['2026', city]))).toEqual([3, 2, 5, 2]);
    expect(['Stockholm', 'Malmö', 'Aarhus', 'Lyon'].map((city) => at(cube, closingBefore, [], ['2026', city]))).toEqual([2, 1, 4, 1]);
    // The year as a whole ends with Malmö, and begins with Stockholm.
    expect(at(cube, closing, [], ['2026'])).toBe(2);
    expect(at(cube, opening, [], ['2026'])).toBe(3);
    expect(at(cube, closing, ['Online'], ['2026'])).toBeNull();
    expect(at(cube, closing, ['Showroom'], ['2026'])).toBe(2);
  });

  it('of a group across the top go by the last date that any of its members has', async () => {
    const group = { id: 'g', label: 'Two cities', members: ['Stockholm', 'Aarhus'], instead: false };
    const top = axisOver(['city'], { levels: { city: { subtotal: true, groups: [group] } } });
    const cube = await arranged(formulas, axisOver(['year']), top);
    expect(at(cube, closing, ['2026'], [groupKey(group)])).toBe(5);
    expect(at(cube, opening, ['2026'], [groupKey(group)])).toBe(3);
    expect(at(cube, closingBefore, ['2026'], [groupKey(group)])).toBe(4);
  });
});

describe('groups of periods', () => {
  it('go to other dates as their members do, and count those they have', async () => {
    const group = { id: 'g', label: 'Winter', members: ['2026-01', '2026-02'], instead: false };
    const formulas = ['net back 1 year', 'to_date(net, year)', 'periods(day)', 'growth(net, 1 year)'];
    const top = axisOver(['month'], { levels: { month: { subtotal: true, groups: [group] } } });
    const cube = await arranged(formulas, axisOver(['country']), top);
    const column = [groupKey(group)];
    expect(formulas.map((formula) => at(cube, formula, ['Sweden'], column))).toEqual([500, 900, 59, 0.8]);
    expect(at(cube, 'net back 1 year', [], column)).toBe(1200);
  });
});

describe('places of formulas', () => {
  const value = async (
    formula: string,
    { side, top, row, column, scope = null }: { side: string[]; top: string[]; row: string[]; column: string[]; scope?: Filter | null },
  ): Promise<number | null> => {
    const isMeasure = workedDataset.measures.some(({ name }) => name === formula);
    const dataset = isMeasure ? workedDataset : withFormulas(workedDataset, [formula], 'sales');
    return at(await cubeOf(dataset, store, { side, top, measures: [formula] }, scope), formula, row, column);
  };

  it('keep other hierarchies of the axis: region, country and channel at region keep the channel', async () => {
    const place = { side: ['region', 'country', 'channel'], top: ['year'], column: ['2026'] };
    // Nordic online in 2026: 300 in Stockholm and 250 in Aarhus.
    expect(await value('net at region', { ...place, row: ['Nordic', 'Sweden', 'Online'] })).toBe(550);
    expect(await value('net at parent', { ...place, row: ['Nordic', 'Sweden', 'Online'] })).toBe(900);
    expect(await value('net at total', { ...place, row: ['Nordic', 'Sweden', 'Online'] })).toBe(3250);
  });

  it('find a level that is not on the axis by the hierarchy, and leave cells above it alone', async () => {
    const place = { side: ['city'], top: ['month'], column: ['2026-01'] };
    expect(await value('net at region', { ...place, row: ['Stockholm'] })).toBe(550);
    expect(await value('net at year', { ...place, row: ['Stockholm'] })).toBe(300);
    expect(await value('net at region at year', { ...place, row: ['Stockholm'] })).toBe(1150);
    expect(await value('net at city', { side: ['region'], top: [], row: ['Nordic'], column: [] })).toBe(1850);
  });

  it('give targets to the cells below their grain, when they are asked for above it', async () => {
    const place = { side: ['country', 'city'], top: ['year'], row: ['Sweden', 'Malmö'], column: ['2026'] };
    expect(await value('goal', place)).toBeNull();
    expect(await value('(goal at country) + 0 * net', place)).toBe(900);
    expect(await value('net / (goal at country)', place)).toBe(0.6667);
  });

  it('unfiltered and back stand in either order with the same result, and lift the scope alone', async () => {
    const scope: Filter = {
      op: 'and',
      items: [
        { op: 'in', field: 'country', values: ['Sweden'] },
        { op: 'in', field: 'year', values: ['2026'] },
      ],
    };
    const place = { side: ['region'], top: [], row: ['Nordic'], column: [], scope };
    expect(await value('net', place)).toBe(900);
    expect(await value('unfiltered(net)', place)).toBe(1850);
    expect(await value('unfiltered(net at row)', place)).toBe(1850);
    expect(await value('unfiltered(net back 1 year)', { ...place, top: ['year'], column: ['2026'] })).toBe(700);
    expect(await value('unfiltered(net) back 1 year', { ...place, top: ['year'], column: ['2026'] })).toBe(700);
  });

  it('tell where they stand', async () => {
    const place = { side: ['region', 'country'], top: ['year'] };
    const formula = 'case when is_total(down) then 3 when level_is(country) then 2 when level_is(region) then 1 end + 0 * net';
    expect(await value(formula, { ...place, row: ['Nordic', 'Sweden'], column: ['2026'] })).toBe(2);
    expect(await value(formula, { ...place, row: ['Nordic'], column: ['2026'] })).toBe(1);
    expect(await value(formula, { ...place, row: [], column: ['2026'] })).toBe(3);
    expect(await value('if(is_total(across), 1, 0) + 0 * net', { ...place, row: ['Nordic'], column: [] })).toBe(1);
    expect(await value('if(is_total(), 1, 0) + 0 * net', { ...place, row: ['Nordic'], column: ['2026'] })).toBe(0);
  });

  it('count periods, those without records too, up to the last day of the data', async () => {
    const place = { side: ['country'], top: ['year'], row: ['Denmark'] };
    expect(await value('periods(month)', { ...place, column: ['2025'] })).toBe(12);
    expect(await value('periods(month)', { ...place, column: ['2026'] })).toBe(2);
    expect(await value('net / periods(month)', { ...place, column: ['2026'] })).toBe(125);
    expect(
      await value('periods(day)', {
        ...{ ...place, row: ['Sweden'], column: ['2026'] },
        scope: { op: 'between', field: 'day', low: '2026-02-01', high: '2026-12-31' },
      }),
    ).toBe(28);
  });

  it('have no dates where a condition mixes them with something else, or where the data does not begin early enough', async () => {
    const mixed: Filter = {
      op: 'or',
      items: [
        { op: 'in', field: 'year', values: ['2026'] },
        { op: 'in', field: 'channel', values: ['Online'] },
      ],
    };
    expect(await value('net back 1 year', { side: [], top: [], row: [], column: [], scope: mixed })).toBeNull();
    expect(await value('net back 1 year', { side: [], top: ['year'], row: [], column: ['2025'] })).toBeNull();
    // A fact may say that it is complete from another day.
    const later = {
      ...workedDataset,
      facts: workedDataset.facts.map((fact) => (fact.name === 'sales' ? { ...fact, completeFrom: '2025-02-01' } : fact)),
    };
    const cube = await cubeOf(withFormulas(later, ['net back 1 year'], 'sales'), store, {
      side: [],
      top: ['month'],
      measures: ['net back 1 year'],
    });
    expect(at(cube, 'net back 1 year', [], ['2026-01'])).toBeNull();
    expect(at(cube, 'net back 1 year', [], ['2026-02'])).toBe(500);
  });
});
