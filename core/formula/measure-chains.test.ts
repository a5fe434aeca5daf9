import { describe, expect, it } from 'vitest';
import { measureSchema, type Dataset } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { chainOf } from './measure-chains.ts';
import { FormulaError, planMeasure } from './index.ts';

const withMeasures = (formulas: Record<string, string>): Dataset => ({
  ...workedDataset,
  measures: Object.entries(formulas).map(([name, formula]) => measureSchema.parse({ name, label: name, formula, fact: 'sales' })),
});
const problemOf = (dataset: Dataset, name: string): string => {
  try {
    planMeasure(dataset, name);
    return '';
  } catch (error) {
    if (!(error instanceof FormulaError)) throw error;
    return `${error.problem.code} ${error.problem.subject}`;
  }
};
/** Measures m1 … mN, each of which names the next; the last one stands on `end`. */
const chain = (length: number, end: string): Dataset =>
  withMeasures(Object.fromEntries(Array.from({ length }, (_, at) => [`m${at + 1}`, at + 1 < length ? `m${at + 2} + 1` : end])));

describe('measures that stand on others', () => {
  it('know how many stand below them, whichever is asked about first', () => {
    for (const order of [
      ['a', 'b', 'c'],
      ['c', 'b', 'a'],
    ]) {
      const dataset = withMeasures({ a: 'b + c', b: 'c * 2', c: 'sum(quantity)' });
      const depths = Object.fromEntries(order.map((name) => [name, chainOf(dataset, name)]));
      expect(depths).toEqual({ a: { depth: 3 }, b: { depth: 2 }, c: { depth: 1 } });
    }
  });

  it('name the ring that they are in, beginning with themselves, or that they lead into', () => {
    const dataset = withMeasures({ a: 'b', b: 'c', c: 'd + sum(quantity)', d: 'b', other: 'a', fine: 'sum(quantity)' });
    expect(problemOf(dataset, 'b')).toBe('cycle b → c → d → b');
    expect(problemOf(dataset, 'd')).toBe('cycle d → b → c → d');
    expect(problemOf(dataset, 'a')).toBe('cycle b → c → d → b');
    expect(problemOf(dataset, 'other')).toBe('cycle b → c → d → b');
    expect(problemOf(dataset, 'fine')).toBe('');
    expect(problemOf(withMeasures({ own: 'own + 1' }), 'own')).toBe('cycle own → own');
  });

  it('are refused when they are too deep, and only those that are', () => {
    for (const first of ['m1', 'm900']) {
      const dataset = chain(1_000, 'sum(quantity)');
      problemOf(dataset, first);
      const refused = dataset.measures.filter(({ name }) => problemOf(dataset, name) !== '').map(({ name }) => name);
      expect(refused).toHaveLength(900);
      expect(problemOf(dataset, 'm900')).toBe('too-deep 100');
      expect(problemOf(dataset, 'm901')).toBe('');
    }
  });

  it('are looked at once each, in a ring of a thousand too', () => {
    let formulas = 0;
    const dataset = chain(1_000, 'm1');
    dataset.measures = dataset.measures.map((measure) => ({
      ...measure,
      get formula() {
        formulas++;
        return measure.formula;
      },
    }));
    for (const { name } of dataset.measures) expect(problemOf(dataset, name)).toMatch(new RegExp(`^cycle ${name} → .* → … → ${name}$`));
    expect(formulas).toBe(1_000);
  });
});
