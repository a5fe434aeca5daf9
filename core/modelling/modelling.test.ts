import { describe, expect, it } from 'vitest';
import { planMeasure } from '../formula/index.ts';
import { datasetSchema, type Dataset } from '../model/index.ts';
import { workedDataset } from '../testing/worked-example.ts';
import { dimensionOver, nameFor, namesTaken, withFact, type TableColumns } from './index.ts';

const stores: TableColumns = {
  table: 'stores',
  label: 'Stores',
  columns: [
    { column: 'store_id', label: 'Store id', type: 'integer', scale: 0 },
    { column: 'name', label: 'Name', type: 'text', scale: 0 },
    { column: 'country', label: 'Country', type: 'text', scale: 0 },
    { column: 'opened', label: 'Opened', type: 'date', scale: 0 },
  ],
};

/** Every name in it is its own, and every measure can be calculated. */
function isWhole(dataset: Dataset): boolean {
  const parsed = datasetSchema.parse(dataset);
  parsed.measures.forEach(({ name }) => planMeasure(parsed, name));
  return true;
}

describe('tables that a dataset takes in', () => {
  it('become a dimension with its key as the one level, told by its words', () => {
    const dimension = dimensionOver(workedDataset, stores, 'store_id');
    expect(dimension).toMatchObject({ name: 'stores', key: 'store_id' });
    expect(dimension.levels).toMatchObject([{ name: 'store', column: 'store_id', labelColumn: 'name', label: 'Name', plural: 'names' }]);
    // The dataset has a country already: names stay unique.
    expect(dimension.kind === 'table' && dimension.attributes.map(({ name }) => name)).toEqual(['country_2', 'opened']);
    expect(isWhole({ ...workedDataset, dimensions: [...workedDataset.dimensions, dimension] })).toBe(true);
    const again = dimensionOver({ ...workedDataset, dimensions: [...workedDataset.dimensions, dimension] }, stores, 'store_id');
    expect([again.name, again.levels[0].name]).toEqual(['stores_2', 'store_2']);
  });
  it('become a tree whose levels are calculated', () => {
    const tree = dimensionOver(workedDataset, stores, 'store_id', { parent: 'country', label: 'name' });
    expect(tree).toMatchObject({ name: 'stores_tree', tree: { parent: 'country' } });
    expect(tree.levels.map((level) => 'column' in level && level.column)).toEqual(['level_1', 'level_2', 'level_3', 'level_4']);
  });
  it('become a fact, joined to the calendar by its first date, with sums and averages of its numbers', () => {
    const visits: TableColumns = {
      ...{ table: 'visits_1', label: 'Visits' },
      columns: [
        { column: 'day', label: 'Day', type: 'date', scale: 0 },
        { column: 'people', label: 'People', type: 'integer', scale: 0 },
      ],
    };
    const next = withFact(workedDataset, visits);
    const calendar = workedDataset.dimensions.find(({ kind }) => kind === 'calendar');
    expect(next.facts.at(-1)).toMatchObject({ table: 'visits_1', links: calendar ? [{ column: 'day' }] : [] });
    const added = next.measures.slice(workedDataset.measures.length);
    expect(added.map(({ formula }) => formula)).toEqual(['count()', 'sum(people)', 'avg(people)']);
    expect(isWhole(next) && isWhole(withFact(next, visits))).toBe(true);
  });
});

it('names are made of labels, each once', () => {
  const taken = namesTaken(workedDataset);
  expect(taken).toContain(workedDataset.measures[0].name);
  expect(nameFor(workedDataset.measures[0].name, taken)).toBe(`${workedDataset.measures[0].name}_2`);
});
