import { runQuery, type QueryResult } from '@bold-compass/core/engine';
import {
  WIDE_FIELDS,
  WIDE_LETTERS,
  WIDE_RECORDS,
  wideAmount,
  wideDataset,
  wideLetter,
  wideQuery,
  wideStore,
} from '@bold-compass/core/testing/wide-example';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { testDatabase, type TestDatabase } from '../../demo/testing/database.ts';
import { runQueryInDatabase } from './runner.ts';

const field = fc.integer({ min: 0, max: WIDE_FIELDS.length - 1 });
const condition = fc.record({ field, values: fc.subarray([...WIDE_LETTERS], { minLength: 1, maxLength: 2 }) });
const conditions = fc.uniqueArray(condition, { minLength: 8, maxLength: 40, size: 'max', selector: (one) => one.field });

const readable = ({ members, sets: [set] }: QueryResult): [string, number[]][] =>
  Array.from({ length: set.size }, (_, group): [string, number[]] => [
    set.keys.map((codes, at) => members[at][codes[group] - 1]).join(),
    [set.records[group], ...set.values.map(({ values }) => values[group])],
  ]).sort(([a], [b]) => (a < b ? -1 : 1));

describe('many conditions on fields of one fact', () => {
  let database: TestDatabase;
  let client: pg.Client;
  const records = Array.from({ length: 2_000 }, (_, index) => (index * 7_919) % WIDE_RECORDS);
  beforeAll(async () => {
    database = await testDatabase('empty');
    client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(
      `CREATE SCHEMA imported; CREATE TABLE imported.facts (${WIDE_FIELDS.map((name) => `${name} text`).join()}, amount integer)`,
    );
    const rows = records.map((record) => [...WIDE_FIELDS.map((_, at) => wideLetter(record, at)), wideAmount(record)]);
    await client.query('INSERT INTO imported.facts SELECT * FROM json_populate_recordset(NULL::imported.facts, $1)', [
      JSON.stringify(rows.map((row) => Object.fromEntries([...WIDE_FIELDS, 'amount'].map((name, at) => [name, row[at]])))),
    ]);
  });
  afterAll(async () => {
    await client.end();
    await database.drop();
  });

  it('leave out what PostgreSQL leaves out', async () => {
    const store = wideStore(records);
    let kept = 0;
    await fc.assert(
      fc.asyncProperty(conditions, fc.uniqueArray(field, { maxLength: 2 }), async (chosen, levels) => {
        const query = wideQuery(chosen, levels);
        const ours = readable(runQuery(wideDataset, store, query));
        expect(ours).toEqual(readable(await runQueryInDatabase(client, wideDataset, query)));
        if (ours.some(([, [count]]) => count > 0)) kept++;
      }),
      { numRuns: 80, seed: 32 },
    );
    expect(kept).toBeGreaterThan(5);
  });
});
