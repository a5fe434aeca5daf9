import { randomUUID } from 'node:crypto';
import type { ImportTarget } from '@bold-compass/core/api';
import type { ImportPlan } from '@bold-compass/core/imports';
import { datasetSchema, type Dataset, type SourceColumn } from '@bold-compass/core/model';
import { eq, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import type pg from 'pg';
import type { Catalogue } from '../data/index.ts';
import { tables } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import type { SourceRegistry } from '../sources/index.ts';
import { identifier, qualified } from '../sql/index.ts';
import { boundColumns, boundLinks, insertBound } from './bindings.ts';
import { datasetFor, factFor, firstReport, MOST_PROMPTED, nameFor, type NamedColumn } from '@bold-compass/core/modelling';
import { tableDefinition, type StagedColumn } from './stage.ts';
import { mergeStatements } from './targets.ts';

export interface Settling {
  plan: ImportPlan;
  target: ImportTarget;
  schema: string;
  /** The staged table. */
  table: string;
  columns: StagedColumn[];
  fileName: string;
  owner: string;
  rows: number;
}

export interface Settled {
  dataset: string;
  report: string | null;
  rows: number;
}

/** Makes a staged file real in one transaction: a new dataset with a first report, another fact, or a change of records. */
export async function settle(client: pg.PoolClient, sources: SourceRegistry, catalogue: Catalogue, settling: Settling): Promise<Settled> {
  await client.query('BEGIN');
  try {
    const { target } = settling;
    const done =
      target.kind === 'dataset'
        ? await newDataset(client, settling, target.label)
        : target.kind === 'fact'
          ? await newFact(client, catalogue, settling, target)
          : await laterFile(client, sources, settling, target);
    await client.query('COMMIT');
    for (const name of done.touched) catalogue.forget(name);
    return { dataset: done.dataset, report: done.report, rows: settling.rows };
  } catch (error) {
    await client.query('ROLLBACK').catch(() => undefined);
    throw error;
  }
}

interface Done {
  dataset: string;
  report: string | null;
  touched: string[];
}

const namedColumns = ({ plan, columns }: Settling): NamedColumn[] =>
  columns.map(({ source, column, type, scale }) => ({ column, name: plan.columns[source].name, type, scale }));

/** Records where the table came from. */
async function addSource(client: pg.PoolClient, settling: Settling, label: string, table: string, columns: SourceColumn[]): Promise<void> {
  const db = drizzle(client);
  const { schema, fileName, owner, rows, plan } = settling;
  const key = plan.key.flatMap((position) => columns.find(({ from }) => from === plan.columns[position].name)?.column ?? []);
  await db.insert(tables.sources).values({ id: table, label, schema, table, columns, key, origin: { kind: 'file', fileName }, rows });
  await db
    .insert(tables.loads)
    .values({ source: table, kind: 'import', state: 'done', finishedAt: new Date(), rows, person: owner, message: fileName });
}

const sourceColumns = (columns: NamedColumn[]): SourceColumn[] =>
  columns.map(({ column, name, type, scale }) => ({ column, label: name, from: name, type, scale }));

/** How many different texts the columns hold that could become prompts, told only as far as it matters. */
export async function distinctCounts(client: pg.PoolClient, table: string, columns: NamedColumn[]): Promise<Map<string, number>> {
  const counts = new Map<string, number>();
  for (const { column, type } of columns) {
    if (type !== 'text' && type !== 'boolean') continue;
    const { rows } = await client.query<{ n: number }>(
      `SELECT count(*)::int AS n FROM (SELECT DISTINCT ${identifier(column)} AS member FROM ${table} LIMIT ${MOST_PROMPTED + 1}) AS members WHERE member IS NOT NULL`,
    );
    counts.set(column, rows[0].n);
  }
  return counts;
}

async function newDataset(client: pg.PoolClient, settling: Settling, label: string): Promise<Done> {
  const unique = randomUUID().slice(0, 8);
  const name = `${nameFor(label, new Set()).replaceAll('_', '-').slice(0, 40)}-${unique}`;
  const table = `${nameFor(label, new Set())}_${unique}`;
  await client.query(`ALTER TABLE ${qualified(settling.schema, settling.table)} RENAME TO ${identifier(table)}`);
  const columns = namedColumns(settling);
  const dataset = datasetFor(name, label, settling.schema, table, columns);
  const report = firstReport(name, dataset, columns, await distinctCounts(client, qualified(settling.schema, table), columns));
  const db = drizzle(client);
  await addSource(client, settling, label, table, sourceColumns(columns));
  await db.insert(tables.datasets).values({ name, definition: dataset });
  await db.insert(tables.reports).values({ id: name, draft: report, owner: settling.owner });
  return { dataset: name, report: name, touched: [name] };
}

async function newFact(
  client: pg.PoolClient,
  catalogue: Catalogue,
  settling: Settling,
  target: Extract<ImportTarget, { kind: 'fact' }>,
): Promise<Done> {
  const { dataset } = await catalogue.definition(target.dataset);
  const { schema, table: staged, columns } = settling;
  const bounds = boundColumns(dataset, target.bindings, columns);
  const table = `${nameFor(target.label, new Set())}_${randomUUID().slice(0, 8)}`;
  const links = boundLinks(dataset, target.bindings, columns);
  const linked = new Set(links.map(({ column }) => column));
  const named = namedColumns(settling).map((column) => {
    const bound = bounds.find(({ staged: { column: own } }) => own === column.column);
    return bound ? { ...column, type: bound.level.type, scale: bound.level.scale } : column;
  });
  await client.query(tableDefinition(schema, table, named));
  await insertBound(client, dataset, bounds, columns, { schema, staged, table });
  await client.query(`DROP TABLE ${qualified(schema, staged)}`);
  const { fact, measures } = factFor(dataset, target.label, table, named, links);
  const parsed = datasetSchema.safeParse({
    ...dataset,
    facts: [...dataset.facts, { ...fact, schema, fields: fact.fields.filter(({ column }) => !linked.has(column)) }],
    measures: [...dataset.measures, ...measures],
  });
  if (!parsed.success)
    throw new ApiError('bad-request', `This cannot become a part of ${dataset.label}: ${parsed.error.issues[0].message}`);
  await addSource(client, settling, target.label, table, sourceColumns(named));
  await saveDefinition(client, parsed.data);
  return { dataset: dataset.name, report: null, touched: [dataset.name] };
}

async function saveDefinition(client: pg.PoolClient, definition: Dataset): Promise<void> {
  await drizzle(client)
    .update(tables.datasets)
    .set({ definition, version: sql`${tables.datasets.version} + 1`, updatedAt: new Date() })
    .where(eq(tables.datasets.name, definition.name));
}

async function laterFile(
  client: pg.PoolClient,
  sources: SourceRegistry,
  settling: Settling,
  target: Extract<ImportTarget, { kind: 'replace' | 'append' | 'update' }>,
): Promise<Done> {
  const source = await sources.find(target.source);
  const db = drizzle(client);
  for (const statement of mergeStatements(source, target.kind, settling.schema, settling.table)) await client.query(statement);
  const { rows } = await client.query<{ n: number }>(`SELECT count(*)::int AS n FROM ${qualified(source.schema, source.table)}`);
  await db.update(tables.sources).set({ rows: rows[0].n, updatedAt: new Date() }).where(eq(tables.sources.id, source.id));
  await db.insert(tables.loads).values({
    ...{ source: source.id, kind: target.kind, state: 'done', finishedAt: new Date(), rows: settling.rows },
    ...{ person: settling.owner, message: settling.fileName },
  });
  const touched = (await sources.datasetsOf(source)).map(({ name }) => name);
  for (const name of touched) {
    await db
      .update(tables.datasets)
      .set({ version: sql`${tables.datasets.version} + 1`, updatedAt: new Date() })
      .where(eq(tables.datasets.name, name));
  }
  return { dataset: touched[0] ?? source.id, report: null, touched };
}
