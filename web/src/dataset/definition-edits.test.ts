import { workedDataset } from '@bold-compass/core/testing/worked-example';
import { describe, expect, it } from 'vitest';
import {
  fieldEntries,
  fieldFault,
  formatWords,
  measureFault,
  measuresNaming,
  newCalculatedField,
  newMeasure,
  withField,
  withMeasure,
} from './definition-edits.ts';

const entryOf = (name: string) => fieldEntries(workedDataset).find(({ field }) => field.name === name)!;

describe('edits of a definition', () => {
  it('list each field once, with its owner', () => {
    expect(fieldEntries(workedDataset).map(({ field, kind, owner }) => `${owner}.${field.name} ${kind}`)).toEqual([
      'sales.channel fact',
      'sales.quantity fact',
      'sales.unit_price fact',
      'targets.target fact',
      'territory.region level',
      'territory.country level',
      'territory.city level',
    ]);
  });
  it('change the one field and leave all others the very same', () => {
    const changed = withField(workedDataset, entryOf('country'), { label: 'Land' });
    expect(fieldEntries(changed).filter(({ field }) => field.label === 'Land')).toHaveLength(1);
    expect(changed.facts).toEqual(workedDataset.facts);
    expect(entryOf('country').field.label).toBe('Country');
  });
  it('give new measures names that nothing has', () => {
    const net = workedDataset.measures.find(({ name }) => name === 'net')!;
    const copy = newMeasure(workedDataset, net);
    const both = { ...workedDataset, measures: [...workedDataset.measures, copy] };
    expect([copy.name, copy.formula, newMeasure(both, net).name]).toEqual(['net_2', net.formula, 'net_3']);
  });
  it('begin a measure and a calculated field that are sound', () => {
    const measure = newMeasure(workedDataset);
    expect(measureFault({ ...workedDataset, measures: [...workedDataset.measures, measure] }, measure)).toBe('');
    const field = newCalculatedField(workedDataset, 'sales');
    expect([field.formula, fieldFault(workedDataset, { field, kind: 'fact', owner: 'sales', ownerLabel: 'Sales' })]).toEqual([
      'quantity',
      '',
    ]);
  });
  it('say what is wrong with a formula, where it is a measure or a calculated field', () => {
    const broken = withMeasure(workedDataset, 'net', { formula: 'sum(quantities)' });
    expect(
      measureFault(
        broken,
        broken.measures.find(({ name }) => name === 'net')!,
      ),
    ).toContain('quantities');
    const field = { ...newCalculatedField(workedDataset, 'sales'), formula: 'quantity +' };
    expect(fieldFault(workedDataset, { field, kind: 'fact', owner: 'sales', ownerLabel: 'Sales' })).not.toBe('');
  });
  it('count the measures that would lose a field, in whichever case they write it', () => {
    const other = withMeasure(workedDataset, 'goal', { formula: 'sum(Quantity)' });
    expect([measuresNaming(other, 'quantity') - measuresNaming(workedDataset, 'quantity'), measuresNaming(other, 'quant')]).toEqual([1, 0]);
  });
  it('read a format in words', () => {
    expect(formatWords({ kind: 'currency', currency: 'EUR', decimals: 1, unit: 'thousand' })).toBe('Currency, thousands, 1 decimal');
    expect(formatWords({ kind: 'duration', decimals: 0, unit: 'one' })).toBe('Duration');
  });
});
