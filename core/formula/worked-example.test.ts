import { describe, expect, it } from 'vitest';
import { Cube, depthNeeded, planCrosstab, visibleNodes, type AxisView } from '../crosstab/index.ts';
import { runQuery } from '../engine/index.ts';
import { axisOver, type Crosstab, type Dataset, type Filter } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';

const store = workedStore();

function cubeOf(dataset: Dataset, side: string[], top: string[], scope: Filter | null = null): Cube {
  const axis = (fields: string[]): Crosstab['side'] => axisOver(fields, { total: 'always' });
  const plan = planCrosstab(
    dataset,
    { side: axis(side), top: axis(top), cells: dataset.measures.map(({ name }) => ({ measure: name })), filter: null },
    scope,
    { side: side.length, top: top.length },
  );
  return new Cube(
    plan,
    plan.parts.map((part) => (part.query ? runQuery(dataset, store, part.query) : null)),
    { side: null, top: null },
  );
}

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

describe('the worked example of docs/formulas.md', () => {
  const cube = cubeOf(workedDataset, ['region', 'country', 'city'], ['year', 'quarter', 'month']);
  const row = (measure: string, year: string[]): (number | null)[] =>
    Object.values(PLACES).map((path) => {
      const value = cube.value(measure, cube.side.find(path)!.id, cube.top.find(year)!.id);
      return Number.isNaN(value) ? null : Math.round(value * 10_000) / 10_000;
    });

  // Nordic, Sweden, Stockholm, Malmö, Denmark, Atlantic, France, all: as printed in the document.
  it.each([
    ['net', [1150, 900, 300, 600, 250, 900, 900, 2050]],
    ['average_price', [150, 200, 100, 300, 50, 450, 450, 225]],
    ['attainment', [0.9583, 1, null, null, 0.8333, 1.125, 1.125, 1.025]],
    ['cities_sold', [3, 2, 1, 1, 1, 1, 1, 4]],
    ['online_share', [0.4783, 0.3333, 1, null, 1, 1, 1, 0.7073]],
  ])('%s in the column 2026', (measure, expected) => {
    expect(row(measure, ['2026'])).toEqual(expected);
  });

  it('counts four cities over both years, not eight', () => {
    expect(row('cities_sold', []).at(-1)).toBe(4);
  });

  it('has 550 net under the prompt January 2026', () => {
    const january = cubeOf(workedDataset, [], [], { op: 'between', field: 'day', low: '2026-01-01', high: '2026-01-31' });
    expect(january.value('net', 0, 0)).toBe(550);
  });

  it('has no goal under a choice of channel, and says why', () => {
    const online = cubeOf(workedDataset, ['region'], [], { op: 'in', field: 'channel', values: ['Online'] });
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
