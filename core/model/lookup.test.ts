import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import definition from '../../demo/documents/dataset.json';
import {
  calendarsOf,
  datasetSchema,
  derivedOf,
  factKnows,
  factNamed,
  fieldLabel,
  fieldPlace,
  fieldPlural,
  findField,
  findMeasure,
  inLevelOrder,
  isSameDimension,
  measureNamed,
  UnknownNameError,
} from './index.ts';
import { workedDataset } from '../testing/worked-example.ts';

const dataset = datasetSchema.parse(definition);

describe('names of a dataset', () => {
  it('lead to every field, whatever their case, with the words of where they are', () => {
    for (const dimension of dataset.dimensions) {
      dimension.levels.forEach((level, depth) => {
        const place = fieldPlace(dataset, level.name.toUpperCase());
        expect(place).toMatchObject({ name: level.name, label: level.label, plural: level.plural, dimension, depth });
        expect(place.kind).toBe(dimension.kind === 'calendar' ? 'period' : 'level');
      });
      if (dimension.kind === 'table')
        for (const attribute of dimension.attributes)
          expect(fieldPlace(dataset, attribute.name)).toMatchObject({ kind: 'attribute', field: attribute, dimension });
    }
    for (const fact of dataset.facts)
      for (const field of fact.fields)
        expect(fieldPlace(dataset, field.name)).toMatchObject({ kind: 'fact', fact, field, dimension: null, type: field.type });
  });

  it('lead to measures and facts', () => {
    for (const measure of dataset.measures) expect(measureNamed(dataset, measure.name.toUpperCase())).toBe(measure);
    for (const fact of dataset.facts) expect(factNamed(dataset, fact.name)).toBe(fact);
    expect(findMeasure(dataset, 'nothing')).toBeUndefined();
    expect(findField(dataset, 'nothing')).toBeUndefined();
  });

  it('that lead nowhere say what there is none of, and where', () => {
    const missing: [() => unknown, string][] = [
      [() => fieldPlace(dataset, 'planet'), 'There is no field called "planet"'],
      [() => measureNamed(dataset, 'toString'), 'There is no measure called "toString"'],
      [() => factNamed(dataset, '__proto__'), 'There is no fact called "__proto__"'],
    ];
    for (const [look, words] of missing) {
      expect(look).toThrow(UnknownNameError);
      expect(look).toThrow(`${words} in ${dataset.label}.`);
    }
  });

  it('have words for one and for several, made where none are written', () => {
    expect([fieldLabel(dataset, 'country'), fieldPlural(dataset, 'country')]).toEqual(['Country', 'countries']);
    const plural = (label: string): string => {
      const [fact, ...rest] = dataset.facts;
      const [field] = fact.fields;
      const own = { ...dataset, facts: [{ ...fact, fields: [{ ...field, name: 'thing', label }] }, ...rest] };
      return fieldPlural(own, 'thing');
    };
    expect(['Box', 'Category', 'Day', 'Branch', 'Status', 'Price'].map(plural)).toEqual([
      ...['boxes', 'categories', 'days', 'branches', 'statuses', 'prices'],
    ]);
  });
});

describe('where fields are', () => {
  it('is the same dimension for its levels and attributes, and none for fields of facts', () => {
    const place = (name: string) => fieldPlace(dataset, name);
    expect(isSameDimension(place('region'), place('showroom_opened'))).toBe(true);
    expect(isSameDimension(place('region'), place('year'))).toBe(false);
    expect(isSameDimension(place('channel'), place('channel'))).toBe(false);
    expect(calendarsOf(dataset).every(({ kind }) => kind === 'calendar')).toBe(true);
  });

  it('is known to a fact through its joins, down to the level it is kept at', () => {
    const knows = (fact: string, ...fields: string[]): boolean[] =>
      fields.map((field) => factKnows(dataset, factNamed(dataset, fact), field));
    expect(knows('orders', 'region', 'city', 'day', 'channel')).toEqual([true, true, true, true]);
    expect(knows('targets', 'region', 'country', 'city', 'month', 'day', 'channel')).toEqual([true, true, false, true, false, false]);
  });

  it('is calculated once for each definition, and anew for a changed one', () => {
    let worked = 0;
    const work = (): number => ++worked;
    expect([derivedOf(dataset, 'a law', work), derivedOf(dataset, 'a law', work)]).toEqual([1, 1]);
    expect(derivedOf({ ...dataset }, 'a law', work)).toBe(2);
  });
});

describe('the order of levels', () => {
  const fields = fc.shuffledSubarray(['region', 'country', 'city', 'year', 'quarter', 'month', 'channel', 'gone'], { minLength: 1 });
  it('is from the coarsest to the finest of each hierarchy, in the places that they have together', () => {
    expect(inLevelOrder(workedDataset, ['city', 'channel', 'region', 'country'])).toEqual(['region', 'channel', 'country', 'city']);
    expect(inLevelOrder(workedDataset, ['month', 'region', 'year'])).toEqual(['year', 'region', 'month']);
    fc.assert(
      fc.property(fields, (own) => {
        const ordered = inLevelOrder(workedDataset, own);
        expect([...ordered].sort()).toEqual([...own].sort());
        for (const hierarchy of [
          ['region', 'country', 'city'],
          ['year', 'quarter', 'month'],
        ])
          expect(ordered.filter((field) => hierarchy.includes(field))).toEqual(hierarchy.filter((field) => own.includes(field)));
        for (const alone of ['channel', 'gone']) expect(ordered.indexOf(alone)).toBe(own.indexOf(alone));
        expect(inLevelOrder(workedDataset, ordered)).toEqual(ordered);
      }),
    );
  });
});
