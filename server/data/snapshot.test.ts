import { appendFileSync, mkdtempSync, readdirSync, readFileSync, rmSync, truncateSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { runQuery, textsOf, type Query, type TextColumn } from '@bold-compass/core/engine';
import { datasetSchema } from '@bold-compass/core/model';
import pg from 'pg';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { testDatabase, type TestDatabase } from '../../demo/testing/database.ts';
import { loadStore } from './loader.ts';
import { readSnapshot, removeSnapshots, snapshotFile, writeSnapshot } from './snapshot.ts';

const folder = mkdtempSync(join(tmpdir(), 'bold-compass-snapshots-'));
const dataset = datasetSchema.parse(JSON.parse(readFileSync(new URL('../../demo/documents/dataset.json', import.meta.url), 'utf8')));
let database: TestDatabase;
let client: pg.Client;
beforeAll(async () => {
  database = await testDatabase('demo');
  client = new pg.Client({ connectionString: database.url });
  await client.connect();
});
afterAll(async () => {
  await client.end();
  await database.drop();
  rmSync(folder, { recursive: true });
});

const query: Query = {
  fact: 'orders',
  filter: null,
  levels: ['country', 'year'],
  sets: [[0, 1], [0], []],
  aggregates: [
    { fn: 'sum', argument: { kind: 'field', name: 'quantity' }, where: null },
    { fn: 'median', argument: { kind: 'field', name: 'unit_price' }, where: null },
  ],
};

it('columns from a snapshot answer as those from the database do', async () => {
  const store = await loadStore(client, dataset, 'demo@1');
  const path = snapshotFile(folder, 'demo', ['one']);
  await writeSnapshot(path, store);
  const kept = (await readSnapshot(path))!;
  expect(runQuery(dataset, kept, query)).toEqual(runQuery(dataset, store, query));
  expect(kept.calendar).toEqual(store.calendar);
  const texts = (from: typeof store): string[] => textsOf((from.facts.orders.columns.channel as TextColumn).dictionary);
  expect(texts(kept)).toEqual(texts(store));
  // Threads share what they read.
  expect(Object.values(kept.facts.orders.links)[0].buffer).toBeInstanceOf(SharedArrayBuffer);

  // Another state has another file, and takes the place of the first.
  const next = snapshotFile(folder, 'demo', ['two']);
  expect(await readSnapshot(next)).toBeNull();
  await writeSnapshot(next, store);
  expect(readdirSync(folder)).toHaveLength(1);
  expect(await readSnapshot(path)).toBeNull();

  // A file that is cut off, or longer than it says, is left aside.
  appendFileSync(next, 'x');
  expect(await readSnapshot(next)).toBeNull();
  truncateSync(next, 1000);
  expect(await readSnapshot(next)).toBeNull();
  truncateSync(next, 10);
  expect(await readSnapshot(next)).toBeNull();
});

it('of datasets that are no more are removed, and no others', async () => {
  const own = mkdtempSync(join(tmpdir(), 'bold-compass-removed-'));
  const store = { version: 'x@1', calendar: { first: 0, days: 0 }, dimensions: {}, rollups: {}, facts: {} };
  // Names that are the same once signs are replaced are told apart.
  for (const name of ['sales', 'sales é', 'sales ü', 'kept']) await writeSnapshot(snapshotFile(own, name, [1]), store);
  expect(readdirSync(own)).toHaveLength(4);
  await removeSnapshots(own, { gone: 'sales é' });
  expect(readdirSync(own)).toHaveLength(3);
  await removeSnapshots(own, { kept: ['kept', 'sales'] });
  expect(readdirSync(own).map((file) => file.split('-')[0])).toEqual(['kept', 'sales']);
  await removeSnapshots(join(own, 'nowhere'), { kept: [] });
  rmSync(own, { recursive: true });
});
