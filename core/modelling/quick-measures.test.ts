import { describe, expect, it } from 'vitest';
import { planFormula } from '../formula/index.ts';
import { measureNamed } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { differenceMeasure, proposedLook, QUICK_MEASURES, quickMeasure } from './index.ts';

const euro = { kind: 'currency' as const, currency: 'EUR', decimals: 0, unit: 'one' as const };
const dataset = {
  ...workedDataset,
  measures: workedDataset.measures.map((measure) => (['net', 'goal'].includes(measure.name) ? { ...measure, format: euro } : measure)),
};
const net = measureNamed(dataset, 'net');

describe('measures that are calculated without writing', () => {
  it.each(QUICK_MEASURES.map((quick) => [quick.words, quick]))('%s: an ordinary formula under a name of its own', (_words, quick) => {
    const measure = quickMeasure(dataset, net, quick);
    expect(planFormula(dataset, measure.formula).type).toBe('number');
    expect(dataset.measures.some(({ name }) => name === measure.name)).toBe(false);
    expect(measure.label).toMatch(/^Net, /);
    // What is proposed for the formula when it is written is what it gets here.
    expect(proposedLook(dataset, measure.formula)?.format.kind).toBe(measure.format.kind);
  });

  it('the difference to another measure, as it is and in percent', () => {
    const goal = measureNamed(dataset, 'goal');
    expect(differenceMeasure(dataset, net, goal, false)).toMatchObject({ formula: 'net - goal', format: euro });
    expect(differenceMeasure(dataset, net, goal, true)).toMatchObject({ formula: '(net - goal) / abs(goal)', format: { kind: 'percent' } });
  });
});

describe('the format proposed for a formula', () => {
  it.each([
    ['net / goal', 'percent'],
    ['net - goal', 'currency'],
    ['net / cities_sold', 'currency'],
    ['avg(net per month)', 'currency'],
    ['count(per city where net > 1)', 'number'],
    ['rank(net)', 'number'],
    ['growth(net, 1 year)', 'percent'],
    ['if(net > 1, net, goal)', 'currency'],
    ['case when net > 1 then share(net) end', 'percent'],
    ['sum(quantity)', 'number'],
  ])('of %s is %s', (formula, kind) => {
    expect(proposedLook(dataset, formula)?.format.kind).toBe(kind);
  });

  it('is none for a text that is no formula', () => {
    expect(proposedLook(dataset, 'net +')).toBeUndefined();
  });

  it('has digits after the point where values lie between whole numbers, else those of the field', () => {
    const decimals = (formula: string) => proposedLook(dataset, formula)?.format;
    for (const fn of ['avg', 'median']) expect(decimals(`${fn}(quantity)`), fn).toMatchObject({ decimals: 2 });
    for (const fn of ['sum', 'min', 'count', 'count_distinct']) expect(decimals(`${fn}(quantity)`), fn).toMatchObject({ decimals: 0 });
  });
});
