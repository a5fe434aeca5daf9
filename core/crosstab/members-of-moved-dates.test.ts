import { describe, expect, it } from 'vitest';
import { cubeOf, withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import type { Cube } from './index.ts';

const store = workedStore();
const at = (cube: Cube, measure: string, side: string[], top: string[]): number | null => {
  const [row, column] = [cube.side.find(side), cube.top.find(top)];
  const value = row && column ? cube.value(measure, row.id, column.id) : Number.NaN;
  return Number.isNaN(value) ? null : Math.round(value * 100) / 100;
};

/**
 * Nordic, net: January 2025 200 (Stockholm), February 2025 500 (Malmö 300, Aarhus 200), January 2026 550 (Stockholm 300,
 * Aarhus 250), February 2026 600 (Malmö). Atlantic: 500 in January 2025, 900 in February 2026. Worked out by hand.
 */
describe('dates are moved before an aggregate goes through the members of a period', () => {
  const formulas = [
    'to_date(avg(net per month), year)',
    'to_date(sum(net per month), year)',
    'to_date(count(per month), year)',
    'rolling(max(net per month), 13 months)',
    'rolling(count(per month), 13 months)',
    'to_date(avg(net back 1 year per month), year)',
    'avg(net per month) back 1 year',
  ];
  const dataset = withFormulas(workedDataset, formulas, 'sales');

  it('over a year, where the periods stand on no axis', async () => {
    const cube = await cubeOf(dataset, store, { side: ['region'], top: ['year'], measures: formulas });
    const values = (column: string[]): (number | null)[] => formulas.map((formula) => at(cube, formula, ['Nordic'], column));
    expect(values(['2026'])).toEqual([575, 1150, 2, 600, 3, 350, 350]);
    // In December 2024 nothing is complete.
    expect(values(['2025'])).toEqual([350, 700, 2, null, null, null, null]);
  });

  it('over months, where the same months stand across the top', async () => {
    const cube = await cubeOf(dataset, store, { side: ['region'], top: ['month'], measures: formulas });
    const values = (side: string, month: string): (number | null)[] => formulas.map((formula) => at(cube, formula, [side], [month]));
    expect(values('Nordic', '2026-01')).toEqual([550, 550, 1, 550, 3, 200, 200]);
    expect(values('Nordic', '2026-02')).toEqual([575, 1150, 2, 600, 3, 350, 500]);
    // Members are months with records: January has none, so the year before it counts nowhere.
    expect(values('Atlantic', '2026-02')).toEqual([900, 900, 1, 900, 1, null, null]);
  });

  it('within one dimension and with others, and in the total of all columns', async () => {
    const both = ['to_date(sum(net per (month, city)), year)', 'to_date(max(net per (month, city)), year)'];
    const cube = await cubeOf(withFormulas(workedDataset, both, 'sales'), store, { side: ['region'], top: ['month'], measures: both });
    expect(both.map((formula) => at(cube, formula, ['Nordic'], ['2026-02']))).toEqual([1150, 600]);
    expect(both.map((formula) => at(cube, formula, ['Nordic'], []))).toEqual([1150, 600]);
    expect(both.map((formula) => at(cube, formula, [], []))).toEqual([2050, 900]);
  });
});

describe("a fact's own field is a level for per and at, on an axis or not", () => {
  const formulas = [
    'max(net per channel)',
    'count(per channel)',
    'net at channel',
    'if(level_is(channel), 1, 0)',
    'sum(net per (channel, city))',
  ];

  it('goes through its members, and clears nothing', async () => {
    const cube = await cubeOf(withFormulas(workedDataset, formulas, 'sales'), store, {
      ...{ side: ['region', 'channel'], top: ['year'] },
      measures: formulas,
    });
    const values = (side: string[]): (number | null)[] => formulas.map((formula) => at(cube, formula, side, ['2026']));
    // Nordic 2026: Online 550 (Stockholm 300, Aarhus 250), Showroom 600 (Malmö).
    expect(values(['Nordic'])).toEqual([600, 2, 1150, 0, 1150]);
    expect(values(['Nordic', 'Online'])).toEqual([550, 1, 550, 1, 550]);
    expect(values([])).toEqual([1450, 2, 2050, 0, 2050]);
  });
});

describe('the neighbour after', () => {
  const formulas = ['next(net)', 'next(net, 2)', 'next(net, along: down)', 'previous(net)'];

  it('is the next column or row, or so many steps on, and none past the last', async () => {
    const cube = await cubeOf(withFormulas(workedDataset, formulas, 'sales'), store, {
      side: ['country'],
      top: ['month'],
      measures: formulas,
    });
    const values = (side: string, month: string): (number | null)[] => formulas.map((formula) => at(cube, formula, [side], [month]));
    // Sweden: 200, 300, 300, 600 in January and February 2025 and 2026.
    expect(values('Sweden', '2025-01')).toEqual([300, 300, null, null]);
    expect(values('Denmark', '2025-01')).toEqual([200, 250, 500, null]);
    expect(values('Sweden', '2026-02')).toEqual([null, null, null, 300]);
  });
});
