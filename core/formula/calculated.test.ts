import { describe, expect, it } from 'vitest';
import type { Field } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { planCalculatedField, withFormula } from './index.ts';

const fact = workedDataset.facts[0];
const stored = fact.fields.filter(({ formula }) => !formula);
const number = stored.find(({ type }) => type === 'integer' || type === 'decimal')!.name;
const text = stored.find(({ type }) => type === 'text')!.name;
const field = (formula: string, part: Partial<Field> = {}): Field => ({
  ...{ name: 'own', label: 'Own', column: 'calculated own', type: 'decimal', scale: 2, formula },
  ...part,
});
const plan = (formula: string, type: Field['type']) => planCalculatedField(workedDataset, fact, field(formula, { type }));

describe('a calculated field', () => {
  it.each([
    [`${number} * 2 - 1`, 'decimal'],
    [`case when ${number} > 10 then 'Bulk' else 'Single' end`, 'text'],
    [`upper(${text}) || '!'`, 'text'],
    ["add_days(date '2026-01-31', 1)", 'date'],
    [`${number} > 10 and ${text} = 'Online'`, 'boolean'],
  ] as const)('is of the type that its formula gives: %s', (formula, type) => {
    expect(withFormula(workedDataset, field('0'), formula).type).toBe(type);
    expect(() => plan(formula, type)).not.toThrow();
    for (const other of ['decimal', 'text', 'date', 'boolean', 'datetime'] as const)
      if (other !== type) expect(() => plan(formula, other), other).toThrow(/has to be a|is not a number/);
  });
  it('keeps its type and its decimal places where another formula gives the same, or where one is not sound', () => {
    const whole = field('1', { type: 'integer', scale: 0 });
    expect(withFormula(workedDataset, whole, `${number} + 1`)).toEqual({ ...whole, formula: `${number} + 1` });
    for (const formula of ['', `${number} +`, 'nothing_here', `sum(${number})`])
      expect(withFormula(workedDataset, whole, formula)).toEqual({ ...whole, formula });
    const words = withFormula(workedDataset, whole, "'a'");
    expect(words).toMatchObject({ type: 'text', scale: 0 });
    expect(withFormula(workedDataset, words, '1.5')).toMatchObject({ type: 'decimal', scale: 2 });
  });
  it('reads stored fields of its own records only', () => {
    expect(() => plan('upper(country)', 'text')).toThrow(/country/);
    expect(() => plan('upper(nothing)', 'text')).toThrow(/nothing/);
  });
});
