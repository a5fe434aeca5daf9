import { describe, expect, it } from 'vitest';
import { depthNeeded, visibleNodes, type AxisView, type Cube } from '../crosstab/index.ts';
import { axisOver, type Filter } from '../model/index.ts';
import { cubeOf, withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';

const store = workedStore();

const viewOf = (fields: string[]): AxisView => ({
  ...axisOver(fields),
  ...{ open: { depth: 0, exceptions: [] }, order: null, usual: { by: 'label', direction: 'asc' }, selected: [] },
});
const NATURAL = {
  natural: (_level: number, a: string | null, b: string | null) => String(a).localeCompare(String(b)),
  naturalKey: () => null,
  byField: () => 0,
};

const PLACES = {
  Nordic: ['Nordic'],
  Sweden: ['Nordic', 'Sweden'],
  Stockholm: ['Nordic', 'Sweden', 'Stockholm'],
  Malmö: ['Nordic', 'Sweden', 'Malmö'],
  Denmark: ['Nordic', 'Denmark'],
  Atlantic: ['Atlantic'],
  France: ['Atlantic', 'France'],
  all: [],
};

/** Nordic, Sweden, Stockholm, Malmö, Denmark, Atlantic, France, all: as printed in the document. */
const TABLE: Record<string, (number | null)[]> = {
  net: [1150, 900, 300, 600, 250, 900, 900, 2050],
  'share(net)': [0.561, 0.7826, 0.3333, 0.6667, 0.2174, 0.439, 1, 1],
  'net at country': [1150, 900, 900, 900, 250, 900, 900, 2050],
  'net back 1 year': [700, 500, 200, 300, 200, 500, 500, 1200],
  'growth(net, 1 year)': [0.6429, 0.8, 0.5, 1, 0.25, 0.8, 0.8, 0.7083],
  'avg(unit_price)': [150, 200, 100, 300, 50, 450, 450, 225],
  'net / goal': [0.9583, 1, null, null, 0.8333, 1.125, 1.125, 1.025],
  'count_distinct(city)': [3, 2, 1, 1, 1, 1, 1, 4],
  'avg(net per city)': [383.33, 450, 300, 600, 250, 900, 900, 512.5],
  'count(per city where net > 280)': [2, 2, 1, 1, 0, 1, 1, 3],
  'rank(net, within: parent)': [1, 1, 2, 1, 2, 2, 1, null],
  'rank(net)': [1, 1, 3, 2, 3, 2, 1, null],
  "sum(quantity * unit_price where channel = 'Online') / net": [0.4783, 0.3333, 1, null, 1, 1, 1, 0.7073],
};

describe('the worked example of docs/formulas.md', async () => {
  const dataset = withFormulas(
    workedDataset,
    [...Object.keys(TABLE).filter((formula) => formula !== 'net'), 'to_date(net, year)'],
    'sales',
  );
  const measures = dataset.measures.map(({ name }) => name);
  const cubeUnder = (side: string[], top: string[], scope: Filter | null = null): Promise<Cube> =>
    cubeOf(dataset, store, { side, top, measures }, scope);
  const territory = ['region', 'country', 'city'];
  const cube = await cubeUnder(territory, ['year', 'quarter', 'month']);
  const at = (own: Cube, measure: string, side: string[], top: string[]): number | null => {
    const value = own.value(measure, own.side.find(side)!.id, own.top.find(top)!.id);
    return Number.isNaN(value) ? null : Math.round(value * 10_000) / 10_000;
  };
  const row = (measure: string, top: string[], own = cube): (number | null)[] =>
    Object.values(PLACES).map((path) => at(own, measure, path, top));

  it.each(Object.entries(TABLE))('%s in the column 2026', (formula, expected) => {
    const digits = expected.includes(383.33) ? 100 : 10_000;
    expect(row(formula, ['2026']).map((value) => (value === null ? null : Math.round(value * digits) / digits))).toEqual(expected);
  });

  it('counts four cities over both years, not eight', () => {
    expect(row('count_distinct(city)', []).at(-1)).toBe(4);
  });

  it('has nothing to stand against in the column 2025', () => {
    expect(row('net back 1 year', ['2025'])).toEqual(Array.from({ length: 8 }, () => null));
  });

  it('stands against the same days under a prompt', async () => {
    const january = await cubeUnder([], [], { op: 'between', field: 'day', low: '2026-01-01', high: '2026-01-31' });
    expect(january.value('net', 0, 0)).toBe(550);
    expect(january.value('net back 1 year', 0, 0)).toBe(700);
  });

  it('goes from the start of the year to the end of each month', () => {
    expect(at(cube, 'to_date(net, year)', ['Nordic'], ['2026', '2026-Q1', '2026-01'])).toBe(550);
    expect(at(cube, 'to_date(net, year)', ['Nordic'], ['2026', '2026-Q1', '2026-02'])).toBe(1150);
  });

  it('has no goal under a choice of channel, and says why', async () => {
    const online = await cubeUnder(['region'], [], { op: 'in', field: 'channel', values: ['Online'] });
    expect(online.value('goal', 0, 0)).toBeNaN();
    expect(online.plan.parts.find((part) => part.fact.name === 'targets')!.reason).toBe(
      'Targets are set per country and month, so under a choice of channel there is no value.',
    );
  });

  it('shows a tree that opens, orders and totals', () => {
    const labels = (view: Partial<AxisView>): string[] =>
      visibleNodes(cube, 'side', { ...viewOf(['region', 'country', 'city']), ...view }, NATURAL).map(({ node, role }) =>
        role === 'total' ? 'all' : String(cube.side.nodes[node].member),
      );
    expect(labels({})).toEqual(['Atlantic', 'Nordic', 'all']);
    expect(labels({ open: { depth: 0, exceptions: ['Nordic', 'Nordic/Sweden'] } })).toEqual([
      'Atlantic',
      'Nordic',
      'Denmark',
      'Sweden',
      'Malmö',
      'Stockholm',
      'all',
    ]);
    expect(labels({ open: { depth: 1, exceptions: ['Nordic'] } })).toEqual(['Atlantic', 'France', 'Nordic', 'all']);
    expect(labels({ order: { by: 'measure', measure: 'net', at: [], direction: 'desc' } })).toEqual(['Nordic', 'Atlantic', 'all']);
    expect(
      labels({ open: { depth: 1, exceptions: [] }, order: { by: 'measure', measure: 'net', at: ['2026'], direction: 'asc' } }),
    ).toEqual(['Atlantic', 'France', 'Nordic', 'Denmark', 'Sweden', 'all']);
    expect(labels({ total: 'never' })).toEqual(['Atlantic', 'Nordic']);
    expect(depthNeeded(3, { depth: 0, exceptions: [] })).toBe(1);
    expect(depthNeeded(3, { depth: 0, exceptions: ['Nordic/Sweden'] })).toBe(3);
  });

  it('puts a subtotal after the members across the top', () => {
    const shown = visibleNodes(cube, 'top', { ...viewOf(['year', 'quarter', 'month']), open: { depth: 0, exceptions: ['2026'] } }, NATURAL);
    expect(shown.map(({ node, role }) => `${cube.top.path(node).join('/')} ${role}`)).toEqual([
      '2025 member',
      '2026/2026-Q1 member',
      '2026 subtotal',
      ' total',
    ]);
  });
});
