import { readFileSync } from 'node:fs';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { SIMULATED_TILES } from '@bold-compass/core/api';
import { labelOf } from '@bold-compass/core/format';
import { datasetSchema, reportSchema, type ColumnType, type SourceColumn } from '@bold-compass/core/model';
import { readerName, tables, type Connection } from '@bold-compass/server/database';
import { hashPassword } from '@bold-compass/server/people';
import { identifier, registered } from '@bold-compass/server/sql';
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
  'where-are-we-drifting',
  'region-by-region',
  'sales-in-charts',
  'company-at-a-glance',
  'country-by-country',
  'repair-workshop',
  'margins-by-line-and-channel',
  'average-order-value',
  'growth-and-shares',
  'what-if',
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

const TYPES: Record<string, ColumnType> = { integer: 'integer', numeric: 'decimal', date: 'date', boolean: 'boolean', text: 'text' };

/** The columns of a demo table as the registry keeps them, from their SQL. */
function sourceColumns({ columns }: DemoTable): SourceColumn[] {
  // A key of several columns stands at the end.
  const own = columns.replace(/, PRIMARY KEY.*$/, '');
  return own.split(', ').map((definition) => {
    const [, column, type, scale] = /^(\w+) ([a-z]+)(?:\(\d+,(\d+)\))?/.exec(definition)!;
    return { column, label: labelOf(column), from: column, type: TYPES[type], scale: Number(scale ?? 0) };
  });
}

/** Fills a table and registers it, as an import does. */
async function loadTable(client: pg.PoolClient, reader: string | null, table: DemoTable): Promise<void> {
  const { name } = table;
  await client.query(`CREATE TABLE ${registered(name)} (${table.columns})`);
  await pipeline(Readable.from(csv(table.rows)), client.query(copyFrom(`COPY ${registered(name)} FROM STDIN (FORMAT csv)`)));
  if (reader !== null) await client.query(`GRANT SELECT ON ${registered(name)} TO ${identifier(reader)}`);
  const { rows } = await client.query<{ n: number }>(`SELECT count(*)::int AS n FROM ${registered(name)}`);
  const columns = sourceColumns(table);
  const key = /(\w+) integer PRIMARY KEY/.exec(table.columns)?.[1];
  const db = drizzle(client);
  await db.insert(tables.sources).values({
    ...{ id: name, label: labelOf(name), columns, key: key === undefined ? [] : [key], rows: rows[0].n },
    origin: { kind: 'file', fileName: `${name}.csv` },
  });
  await db
    .insert(tables.loads)
    .values({ source: name, kind: 'import', state: 'done', finishedAt: new Date(), rows: rows[0].n, message: `${name}.csv` });
}

/** Whether the demo company is there already. */
export async function demoIsLoaded({ pool }: Connection): Promise<boolean> {
  const { rows } = await pool.query(`SELECT 1 FROM app.datasets WHERE name = 'hollin-marsh'`);
  return rows.length > 0;
}

/** Loads Hollin & Marsh: tables, dataset, reports, people and their access rules, in one transaction. */
export async function loadDemo(connection: Connection): Promise<void> {
  const { pool } = connection;
  const dataset = datasetSchema.parse(readDocument('dataset'));
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  const client = await pool.connect();
  try {
    await client.query('BEGIN');
    for (const table of demoTables()) await loadTable(client, readerName(connection), table);
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
    // A figure that the made-up ledger is to agree with.
    const ledger = await client.query<{ net: string }>(
      `SELECT sum(quantity * unit_price - discount) AS net FROM imported.order_lines
       WHERE status NOT IN ('Cancelled', 'Returned') AND order_date BETWEEN '2025-01-01' AND '2025-12-31'`,
    );
    await db.insert(tables.controlTotals).values({
      ...{ id: 'net-sales-2025', dataset: dataset.name, measure: 'net_sales', filter: { op: 'in', field: 'year', values: ['2025'] } },
      ...{ expected: ledger.rows[0].net, note: 'Ledger, annual accounts of 2025', person: 'ines-calloway' },
    });
    await db.insert(tables.tileServer).values({ address: SIMULATED_TILES, attribution: 'Land: Natural Earth, public domain' });
    await client.query('COMMIT');
    await client.query('ANALYZE');
  } catch (error) {
    await client.query('ROLLBACK').catch(() => undefined);
    throw error;
  } finally {
    client.release();
  }
}
