import { aggregates, SCALARS } from '@bold-compass/core/engine';
import { SCALAR_FUNCTIONS } from '@bold-compass/core/formula';
import { AGGREGATES, datasetSchema, type Dataset } from '@bold-compass/core/model';
import { cubeOf, withFormulas } from '@bold-compass/core/testing/formulas';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { testDatabase, type TestDatabase } from '../../demo/testing/database.ts';
import { loadStore } from '../data/loader.ts';
import { AGGREGATE_SQL } from './aggregates.ts';
import { runQueryInDatabase } from './runner.ts';
import { SCALAR_SQL } from './scalars.ts';

/** An aggregate and a function that nobody has heard of, added by the records that DEVELOPERS.md lists and nothing else. */

const dataset: Dataset = datasetSchema.parse({
  ...{ schemaVersion: 1, name: 'sales', label: 'Sales', dimensions: [], measures: [] },
  facts: [
    {
      ...{ name: 'sales', label: 'Sales', record: { one: 'sale', many: 'sales' }, table: 'sales', links: [] },
      fields: [
        { name: 'shop', label: 'Shop', column: 'shop', type: 'text' },
        { name: 'amount', label: 'Amount', column: 'amount', type: 'integer' },
      ],
    },
  ],
});

/** What is said of the width of values: the largest less the smallest. */
function addWidth(): void {
  Object.assign(AGGREGATES, {
    width: {
      ...{ label: 'Width', about: 'The largest less the smallest.', example: 'width(amount)' },
      ...{ least: 1, most: 1, takes: 'one value', readsNumbers: true, counts: false, keepsType: false },
      ...{ additive: false, overMembers: true, running: 'merge', decimals: null, offered: [] },
    },
  });
  Object.assign(aggregates, {
    width: {
      ...{ kind: 'additive', power: 1, needs: ['min', 'max'], result: 'keep', merge: null },
      value: ({ count, min, max }: { count: Float64Array; min: Float64Array; max: Float64Array }, group: number) =>
        count[group] === 0 ? Number.NaN : max[group] - min[group],
    },
  });
  Object.assign(AGGREGATE_SQL, {
    width: ({ argument, filter }: { argument: string; filter: string }) => `(max(${argument})${filter} - min(${argument})${filter})`,
  });
}

function addTwice(): void {
  Object.assign(SCALARS, {
    twice: {
      ...{ takes: ['number'], gives: 'number', least: 1, most: 1 },
      work: ([value]: (number | null)[]) => (value === null ? null : 2 * value),
    },
  });
  Object.assign(SCALAR_FUNCTIONS, {
    twice: { group: 'Numbers', signature: 'twice(number)', about: 'Two times a number.', example: 'twice(sum(amount))' },
  });
  Object.assign(SCALAR_SQL, { twice: ([value]: string[]) => `(2 * ${value})` });
}

const FORMULAS = [
  'width(amount)',
  'width(amount where amount < 10)',
  'twice(width(amount))',
  'sum(twice(amount))',
  'max(width(amount) per shop)',
];

describe('an aggregate and a function that are added', () => {
  let database: TestDatabase;
  let client: pg.Client;

  beforeAll(async () => {
    addWidth();
    addTwice();
    database = await testDatabase('empty');
    client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(`
      CREATE SCHEMA imported;
      CREATE TABLE imported.sales (shop text, amount bigint);
      INSERT INTO imported.sales VALUES ('Oslo', 3), ('Oslo', 11), ('Oslo', 6), ('Lund', 40), ('Lund', NULL), ('Pisa', NULL);`);
  });
  afterAll(async () => {
    await client.end();
    await database.drop();
  });

  it('count in columns and in PostgreSQL, alone, in other formulas, of records and over members', async () => {
    const own = withFormulas(dataset, FORMULAS, 'sales');
    const layout = { side: ['shop'], top: [], measures: FORMULAS };
    const store = await loadStore(client, own, 'extended');
    const figures = async (ask?: Parameters<typeof cubeOf>[4]): Promise<Record<string, unknown[]>> => {
      const cube = await cubeOf(own, store, layout, null, ask);
      return Object.fromEntries(
        cube.side.nodes.map(({ id }) => [cube.side.path(id).join(), FORMULAS.map((measure) => cube.cell(measure, id, 0))]),
      );
    };
    const expected = { '': [37, 3, 74, 120, 8], Lund: [0, null, 0, 80, 0], Oslo: [8, 3, 16, 40, 8], Pisa: [null, null, null, null, null] };
    expect(await figures()).toEqual(expected);
    expect(await figures((query) => runQueryInDatabase(client, own, query))).toEqual(expected);
  });
});
