import { datasetSchema } from '@bold-compass/core/model';
import { workedDataset } from '@bold-compass/core/testing/worked-example';
import { describe, expect, it } from 'vitest';
import { completions } from './completion.ts';
import { measureProblem } from './problems.ts';

describe('the problem of a formula that is being written', () => {
  it.each([
    ['sum(quantty)', 'sum(quantity)'],
    ['cuont(city)', 'count(city)'],
    ['quantity', 'sum(quantity)'],
    ['net > 5', 'if(net > 5, 1, 0)'],
    ["sum(quantity where region == 'Nordic')", "sum(quantity where region = 'Nordic')"],
    ["sum(quantity where region != 'Nordic')", "sum(quantity where region <> 'Nordic')"],
    ['sum(quantity where region = "Nordic")', "sum(quantity where region = 'Nordic')"],
    ['round(net; 1)', 'round(net, 1)'],
    ['net;', 'net'],
    ['= net / goal', 'net / goal'],
    ['Average price * 2', 'average_price * 2'],
    ['"Average price" * 2', 'average_price * 2'],
    ['sum(Quantity * 2', 'sum(Quantity * 2)'],
    ['(net + goal', '(net + goal)'],
    ['net + goal)', 'net + goal'],
    ['case when net > 5 then 1 else 0', 'case when net > 5 then 1 else 0 end'],
    ["net where region = 'Nordic'", "sum(quantity * unit_price where region = 'Nordic')"],
    ['sum([quantity])', 'sum(quantity)'],
    ['sum(quantity where region == "Nordic")', "sum(quantity where region = 'Nordic')"],
  ])('%s is mended by a click into %s', (formula, mended) => {
    const { fix } = measureProblem(workedDataset, formula, 'sales')!;
    expect(formula.slice(0, fix!.from) + fix!.insert + formula.slice(fix!.to)).toBe(mended);
    expect(measureProblem(workedDataset, mended, 'sales')).toBeNull();
  });

  it('without a certain remedy has none', () => {
    expect(measureProblem(workedDataset, 'net +', 'sales')).toMatchObject({ fix: null });
  });
});

describe('completion', () => {
  it('offers measures, fields, levels, functions and words, each with what it is', () => {
    const offered = new Map(completions(workedDataset).map((one) => [one.label, one]));
    expect(offered.get('net')).toMatchObject({ detail: 'Net · measure', info: 'sum(quantity * unit_price)' });
    expect(offered.get('quantity')!.detail).toBe('Quantity · field · sales');
    expect(offered.get('country')!.detail).toBe('Country · level · territory');
    expect(offered.get('growth')).toMatchObject({ detail: 'growth(measure, 1 year)', apply: 'growth(' });
    expect(offered.has('where')).toBe(true);
  });

  it('quotes names that are words of the language', () => {
    const quoted = datasetSchema.parse({ ...workedDataset, measures: [{ name: 'per', label: 'Per', formula: 'count()', fact: 'sales' }] });
    expect(completions(quoted).some(({ label }) => label === '"per"')).toBe(true);
  });
});
