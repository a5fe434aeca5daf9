import { randomUUID } from 'node:crypto';
import type { ImportTarget } from '@bold-compass/core/api';
import { recipeOf, type ImportPlan, type ImportRecipe } from '@bold-compass/core/imports';
import { datasetSchema, type Dataset, type SourceColumn } from '@bold-compass/core/model';
import { datasetFor, factFor, firstReport, nameFor, widened, type NamedColumn } from '@bold-compass/core/modelling';
import { eq, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { tables, type PoolClient } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';
import type { SourceRegistry, SourceRow } from '../sources/index.ts';
import { identifier, registered } from '../sql/index.ts';
import type { TableStore } from '../tables/index.ts';
import { boundColumns, boundLinks, insertBound } from './bindings.ts';
import { withResolved } from './later-file.ts';
import { profiled } from './profiles.ts';
import { columnDefinitions, sqlType, type StagedColumn } from './stage.ts';
import { changeCounts, mergeStatements, refuseHarm } from './targets.ts';

interface Committing {
  plan: ImportPlan;
  header: string[];
  target: ImportTarget;
  /** The staged table. */
  table: string;
  columns: StagedColumn[];
  fileName: string;
  /** SHA-256 of the file. */
  content: string;
  owner: string;
  rows: number;
  /** That records which seem to be here already are appended all the same. */
  agreed: boolean;
}

export interface CommittedImport {
  dataset: string;
  report: string | null;
  rows: number;
}

interface Done {
  dataset: string;
  report: string | null;
  touched: string[];
}

/** What a settled file touches; its caller's transaction makes it hold. */
export async function commitImport(client: PoolClient, store: TableStore, sources: SourceRegistry, committing: Committing): Promise<Done> {
  const { target } = committing;
  if (target.kind === 'dataset') return newDataset(client, store, committing, target.label);
  if (target.kind === 'fact') return newFact(client, store, committing, target);
  return laterFile(client, store, sources, committing, target);
}

const namedColumns = ({ plan, columns }: Committing): NamedColumn[] =>
  columns.map(({ source, column, type, scale }) => ({ column, name: plan.columns[source].name, type, scale }));

/** Records where the table came from, and how its file was read. */
async function addSource(
  client: PoolClient,
  committing: Committing,
  label: string,
  id: string,
  columns: SourceColumn[],
  bindings: ImportRecipe['bindings'],
): Promise<void> {
  const db = drizzle(client);
  const { fileName, owner, rows, plan, header, content, columns: staged } = committing;
  const key = plan.key.flatMap((position) => staged.find(({ source }) => source === position)?.column ?? []);
  const recipe = recipeOf(plan, header, new Map(staged.map(({ source, column }) => [source, column])), bindings);
  await db.insert(tables.sources).values({ id, label, columns, key, origin: { kind: 'file', fileName }, rows, owner, recipe });
  await db
    .insert(tables.loads)
    .values({ source: id, kind: 'import', state: 'done', finishedAt: new Date(), rows, person: owner, message: fileName, content });
}

const sourceColumns = (columns: NamedColumn[]): SourceColumn[] =>
  columns.map(({ column, name, type, scale }) => ({ column, label: name, from: name, type, scale }));

async function newDataset(client: PoolClient, store: TableStore, committing: Committing, label: string): Promise<Done> {
  const unique = randomUUID().slice(0, 8);
  const name = `${nameFor(label, new Set()).replaceAll('_', '-').slice(0, 40)}-${unique}`;
  const table = `${nameFor(label, new Set())}_${unique}`;
  await store.publish(client, committing.table, table);
  const columns = await profiled(client, registered(table), namedColumns(committing));
  const dataset = datasetFor(name, label, table, columns);
  const report = firstReport(name, dataset, columns);
  const db = drizzle(client);
  await addSource(client, committing, label, table, sourceColumns(columns), []);
  await store.keepKeys(client, table);
  await db.insert(tables.datasets).values({ name, definition: dataset, owner: committing.owner, accessDecided: false });
  await db.insert(tables.reports).values({ id: name, draft: report, owner: committing.owner });
  return { dataset: name, report: name, touched: [name] };
}

/** A dataset's definition, held until the transaction ends. Throws ApiError `not-found`. */
async function definitionHeld(client: PoolClient, name: string): Promise<Dataset> {
  const [row] = await drizzle(client).select().from(tables.datasets).where(eq(tables.datasets.name, name)).for('update');
  if (!row) throw new ApiError('not-found', 'This dataset is not here any more. Choose another one.');
  return row.definition;
}

async function newFact(
  client: PoolClient,
  store: TableStore,
  committing: Committing,
  target: Extract<ImportTarget, { kind: 'fact' }>,
): Promise<Done> {
  const dataset = await definitionHeld(client, target.dataset);
  const { table: staged, columns } = committing;
  const bounds = boundColumns(dataset, target.bindings, columns);
  const table = `${nameFor(target.label, new Set())}_${randomUUID().slice(0, 8)}`;
  const links = boundLinks(dataset, target.bindings, columns);
  const linked = new Set(links.map(({ column }) => column));
  const named = namedColumns(committing).map((column) => {
    const bound = bounds.find(({ staged: { column: own } }) => own === column.column);
    return bound ? { ...column, type: bound.level.type, scale: bound.level.scale } : column;
  });
  await client.query(`CREATE TABLE ${registered(table)} (${columnDefinitions(named)})`);
  await insertBound(client, dataset, bounds, columns, { staged, into: registered(table) });
  await store.forgetStaged(client, staged);
  await store.letRead(client, table);
  const { fact, measures } = factFor(dataset, target.label, table, await profiled(client, registered(table), named), links);
  const parsed = datasetSchema.safeParse({
    ...dataset,
    facts: [...dataset.facts, { ...fact, fields: fact.fields.filter(({ column }) => !linked.has(column)) }],
    measures: [...dataset.measures, ...measures],
  });
  if (!parsed.success)
    throw new ApiError('bad-request', `This cannot become a part of ${dataset.label}: ${parsed.error.issues[0].message}`);
  const bindings = bounds.map(({ staged: { column }, level, by }) => ({ column, dataset: dataset.name, level: level.name, by }));
  await addSource(client, committing, target.label, table, sourceColumns(named), bindings);
  await store.keepKeys(client, table);
  await saveDefinition(client, parsed.data);
  return { dataset: dataset.name, report: null, touched: [dataset.name] };
}

/** Saves a definition; a draft that was begun before is known by its revision to be of an older one. */
async function saveDefinition(client: PoolClient, definition: Dataset): Promise<void> {
  await drizzle(client)
    .update(tables.datasets)
    .set({ definition, version: sql`${tables.datasets.version} + 1`, updatedAt: new Date() })
    .where(eq(tables.datasets.name, definition.name));
}

/** Raises the decimal places of a table's columns, of its source and of the datasets that read it. Returns the source as it is then. */
export async function widenColumns(client: PoolClient, source: SourceRow, scales: ReadonlyMap<string, number>): Promise<SourceRow> {
  const wider = source.columns.filter((column) => column.type === 'decimal' && (scales.get(column.column) ?? 0) > column.scale);
  if (wider.length === 0) return source;
  const next = {
    ...source,
    columns: source.columns.map((one) => (wider.includes(one) ? { ...one, scale: scales.get(one.column)! } : one)),
  };
  await drizzle(client).update(tables.sources).set({ columns: next.columns }).where(eq(tables.sources.id, source.id));
  const rows = await drizzle(client).select().from(tables.datasets).for('update');
  for (const { name, definition, draft } of rows) {
    const own = widened(definition, source.id, scales);
    const ownDraft = draft && widened(draft, source.id, scales);
    if (own === definition && ownDraft === draft) continue;
    await drizzle(client).update(tables.datasets).set({ definition: own, draft: ownDraft }).where(eq(tables.datasets.name, name));
  }
  return next;
}

async function laterFile(
  client: PoolClient,
  store: TableStore,
  sources: SourceRegistry,
  committing: Committing,
  target: Extract<ImportTarget, { kind: 'replace' | 'append' | 'update' }>,
): Promise<Done> {
  const db = drizzle(client);
  // Two later files of one source come one after the other.
  const [held] = await db.select().from(tables.sources).where(eq(tables.sources.id, target.source)).for('update');
  if (!held) throw new ApiError('not-found', 'These records are not here any more. Choose others.');
  const source = await widenColumns(client, held, new Map(committing.columns.map(({ column, scale }) => [column, scale])));
  for (const { column, type, scale } of source.columns) {
    const before = held.columns.find((one) => one.column === column);
    if (before && before.scale !== scale)
      await client.query(`ALTER TABLE ${registered(source.id)} ALTER COLUMN ${identifier(column)} TYPE ${sqlType({ type, scale })}`);
  }
  await withResolved(client, source, committing.columns, committing.table, async (incoming) => {
    const changes = await changeCounts(client, store, source, target.kind, incoming);
    const sameFile = await sources.hadContent(client, source.id, committing.content);
    refuseHarm(source, target.kind, { ...changes, sameFile }, committing.rows, committing.agreed);
    for (const statement of mergeStatements(source, target.kind, incoming)) await client.query(statement);
  });
  await store.forgetStaged(client, committing.table);
  await store.keepKeys(client, source.id);
  const { rows } = await client.query<{ n: number }>(`SELECT count(*)::int AS n FROM ${registered(source.id)}`);
  await db
    .update(tables.sources)
    .set({ rows: rows[0].n, updatedAt: new Date(), revision: sql`${tables.sources.revision} + 1` })
    .where(eq(tables.sources.id, source.id));
  await db.insert(tables.loads).values({
    ...{ source: source.id, kind: target.kind, state: 'done', finishedAt: new Date(), rows: committing.rows },
    ...{ person: committing.owner, message: committing.fileName, content: committing.content },
  });
  const touched = (await sources.datasetsOf(source.id)).map(({ name }) => name);
  await store.touch(client, touched);
  return { dataset: touched[0] ?? source.id, report: null, touched };
}
