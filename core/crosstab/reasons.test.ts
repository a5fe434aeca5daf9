import { describe, expect, it } from 'vitest';
import { cubeOf, withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';

/** Why a cell holds nothing: the reason of the part that the formula stumbles over. */
const REASONS: [formula: string, side: string[], top: string[], reason: string][] = [
  ['net', ['Nordic', 'Denmark'], ['2026'], ''],
  ['net', ['Atlantic', 'France'], ['2025-02'], 'No records stand behind this.'],
  ['net / (quantity_sum - quantity_sum)', ['Nordic'], ['2026'], 'It is divided by zero.'],
  ['(net back 1 year) / net', ['Nordic'], ['2025'], 'Sales are complete from 2025-01-01 on, and this would need earlier days.'],
  ["sum(quantity where channel = 'Mail') + net", ['Nordic'], ['2026'], 'None of the records behind this has a value for it.'],
  ['goal', ['Nordic', 'Sweden', 'Malmö'], ['2026'], 'Targets are set per country and month, so there is no value here.'],
  ['rank(net)', [], ['2026'], 'This is the total of all rows, which has no place among them.'],
  ['previous(net)', ['Nordic'], ['2025'], 'There is no column before this one, or it has no value.'],
  ['next(net)', ['Nordic'], ['2026'], 'There is no such column after this one, or it has no value.'],
  ['avg(goal per city)', ['Nordic'], ['2026'], 'Targets are set per country and month, so there is no value here.'],
  ["avg(sum(quantity where channel = 'Mail') per city)", ['Nordic'], ['2026'], 'No member has a value here.'],
  ['case when net > 10000 then 1 end', ['Nordic'], ['2026'], 'None of the conditions of the formula holds here.'],
  ['if(goal > 1, 1, 2)', ['Nordic'], ['2025'], 'No records stand behind this.'],
  ['sqrt(0 - net)', ['Nordic'], ['2026'], 'The formula has no result for these values.'],
  ['share(net, of: column)', ['Atlantic', 'France'], ['2025-02'], 'No records stand behind this.'],
];

describe('a cell without a value', () => {
  it.each(REASONS)('says why: %s in %j under %j', async (formula, side, top, reason) => {
    const quantity = { ...workedDataset.measures[0], name: 'quantity_sum', label: 'Quantity', formula: 'sum(quantity)' };
    const known = { ...workedDataset, measures: [...workedDataset.measures, quantity] };
    const own = withFormulas(known, known.measures.some(({ name }) => name === formula) ? [] : [formula], 'sales');
    const across = top[0]?.length === 4 ? ['year'] : ['month'];
    const cube = await cubeOf(own, workedStore(), { side: ['region', 'country', 'city'], top: across, measures: [formula, 'net'] });
    const [row, column] = [cube.side.find(side), cube.top.find(top)];
    expect(row && column && cube.reason(formula, row.id, column.id)).toBe(reason);
    // A reason is there exactly where there is no value.
    expect(cube.cell(formula, row!.id, column!.id) === null).toBe(reason !== '');
  });
});
