import { readFileSync } from 'node:fs';
import { listRecords, type RecordQuery, type Store } from '@bold-compass/core/engine';
import { datasetSchema, type Filter } from '@bold-compass/core/model';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { testDatabase, type TestDatabase } from '../../demo/testing/database.ts';
import { loadStore } from '../data/index.ts';
import { listRecordsInDatabase } from './runner.ts';

const dataset = datasetSchema.parse(JSON.parse(readFileSync(new URL('../../demo/documents/dataset.json', import.meta.url), 'utf8')));
let database: TestDatabase;
let client: pg.Client;
let store: Store;
beforeAll(async () => {
  database = await testDatabase('demo');
  client = new pg.Client({ connectionString: database.url });
  await client.connect();
  store = await loadStore(client, dataset, 'demo@1');
});
afterAll(async () => {
  await client.end();
  await database.drop();
});

it('both runners list the same records, in the same order', { timeout: 120_000 }, async () => {
  const filters: (Filter | null)[] = [
    null,
    { op: 'in', field: 'country', values: ['Sweden', 'Denmark'] },
    {
      op: 'and',
      items: [
        { op: 'eq', field: 'year', value: '2026' },
        { op: 'empty', field: 'satisfaction' },
      ],
    },
  ];
  // Repairs have missing values, dates and yes or no; their number makes any order a whole one.
  const fields = ['satisfaction', 'repair_family', 'returned', 'country', 'showroom'] as const;
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(...filters),
      fc.uniqueArray(fc.record({ field: fc.constantFrom(...fields), direction: fc.constantFrom('asc' as const, 'desc' as const) }), {
        selector: ({ field }) => field,
        maxLength: 3,
      }),
      fc.integer({ min: 0, max: 45_000 }),
      async (filter, order, offset) => {
        const query: RecordQuery = {
          ...{ fact: 'repairs', filter, offset, limit: 25 },
          columns: ['repair_number', 'satisfaction', 'repair_family', 'returned', 'promise_kept', 'country', 'showroom'],
          order: [...order, { field: 'repair_number', direction: 'asc' }],
        };
        expect(await listRecordsInDatabase(client, dataset, query)).toEqual(listRecords(dataset, store, query));
      },
    ),
    { numRuns: 25 },
  );
});
