import { readFileSync } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { datasetSchema, reportSchema } from '@bold-compass/core/model';
import { tables, type Connection } from '@bold-compass/server/database';
import { hashPassword } from '@bold-compass/server/people';
import { identifier, qualified } from '@bold-compass/server/sql';
import { drizzle } from 'drizzle-orm/node-postgres';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { DEMO_GROUPS, DEMO_PASSWORD, DEMO_PEOPLE } from './people.ts';
import { demoTables, type DemoTable } from './tables.ts';

/** Folder of the documents: beside the sources, or where the bundle is told they are. */
const documents = process.env.BOLD_COMPASS_DEMO_DOCUMENTS ?? new URL('./documents/', import.meta.url).pathname;
const readDocument = (name: string): unknown => JSON.parse(readFileSync(`${documents}/${name}.json`, 'utf8'));

const REPORTS = [
  'sales-against-target',
  'margins-by-line-and-channel',
  'average-order-value',
  'school-visits',
  'repairs-and-promises',
  'order-lines',
];
const PUBLISHED_AT = new Date('2026-11-03T08:00:00Z');

const cell = (value: unknown): string =>
  value === null ? '' : typeof value === 'string' ? `"${value.replaceAll('"', '""')}"` : String(value);

function* csv(rows: DemoTable['rows']): Generator<string> {
  // Some hundred lines at a time: a chunk a line would be slow.
  let chunk = '';
  for (const row of rows) {
    chunk += `${row.map(cell).join(',')}\n`;
    if (chunk.length > 60_000) {
      yield chunk;
      chunk = '';
    }
  }
  if (chunk) yield chunk;
}

async function loadTable(client: pg.PoolClient, schema: string, table: DemoTable): Promise<void> {
  const name = qualified(schema, table.name);
  await client.query(`CREATE TABLE ${name} (${table.columns})`);
  await pipeline(Readable.from(csv(table.rows)), client.query(copyFrom(`COPY ${name} FROM STDIN (FORMAT csv)`)));
}

/** Whether the demo company is there already. */
export async function demoIsLoaded({ pool }: Connection): Promise<boolean> {
  const { rows } = await pool.query(`SELECT 1 FROM app.datasets WHERE name = 'hollin-marsh'`);
  return rows.length > 0;
}

/** Loads Hollin & Marsh: tables, dataset, reports, people and their access rules, in one transaction. */
export async function loadDemo({ pool }: Connection): Promise<void> {
  const dataset = datasetSchema.parse(readDocument('dataset'));
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const client = await pool.connect();
  try {
    await client.query('BEGIN');
    await client.query(`CREATE SCHEMA ${identifier(dataset.schema)}`);
    for (const table of demoTables()) await loadTable(client, dataset.schema, table);
    const db = drizzle(client);
    await db.insert(tables.datasets).values({ name: dataset.name, definition: dataset });
    for (const id of REPORTS) {
      const report = reportSchema.parse(readDocument(id));
      await db.insert(tables.reports).values({ id: report.id, draft: report });
      await db.insert(tables.editions).values({ report: report.id, number: 1, document: report, publishedAt: PUBLISHED_AT });
    }
    await db.insert(tables.groups).values(DEMO_GROUPS.map(({ id, name }) => ({ id, name })));
    await db.insert(tables.people).values(
      DEMO_PEOPLE.map(({ id, name, role, title }, demoPosition) => ({
        id,
        name,
        role,
        title,
        email: `${id.replace('-', '.')}@hollin-marsh.example`,
        passwordHash,
        demoPosition,
      })),
    );
    await db.insert(tables.groupMembers).values(DEMO_PEOPLE.flatMap(({ id, groups }) => groups.map((group) => ({ person: id, group }))));
    await db
      .insert(tables.accessRules)
      .values(
        DEMO_GROUPS.flatMap(({ id, rule }) =>
          rule ? [{ group: id, dataset: dataset.name, field: rule.field, members: rule.members }] : [],
        ),
      );
    await client.query('COMMIT');
    await client.query('ANALYZE');
  } catch (error) {
    await client.query('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    client.release();
  }
}
