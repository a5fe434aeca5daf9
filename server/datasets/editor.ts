import type { DatasetView, DataTable, Finding, JoinSuggestion, MemberNode, Touched } from '@bold-compass/core/api';
import { labelOf } from '@bold-compass/core/format';
import { parseFormula, printFormula } from '@bold-compass/core/formula';
import { datasetSchema, isDataExhibit, type ColumnType, type Dataset, type Report } from '@bold-compass/core/model';
import { and, eq, sql } from 'drizzle-orm';
import type pg from 'pg';
import type { Catalogue } from '../data/index.ts';
import { tables, type Connection } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import type { SourceRegistry } from '../sources/index.ts';
import { identifier, qualified, tableOf } from '../sql/index.ts';
import { checkDataset } from './checks.ts';

const SQL_TYPES: Record<string, ColumnType> = {
  smallint: 'integer',
  integer: 'integer',
  bigint: 'integer',
  numeric: 'decimal',
  real: 'decimal',
  'double precision': 'decimal',
  date: 'date',
  'timestamp without time zone': 'datetime',
  'timestamp with time zone': 'datetime',
  boolean: 'boolean',
};
/** Values looked at to see whether a column names rows of a table. */
const LOOKED_AT = 2_000;
const MOST_MEMBERS = 2_000;

/** Definitions of datasets: worked on as drafts, checked on the data, applied in one step. */
export class DatasetEditor {
  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly sources: SourceRegistry,
  ) {}

  /** A dataset with its draft. Throws ApiError `not-found`. */
  async view(name: string): Promise<DatasetView> {
    const row = await this.row(name);
    const { definition: applied, draft, version, draftRevision } = row;
    return { definition: draft ?? applied, applied, version, draftRevision, isDraft: draft !== null };
  }

  /** Saves a draft from the revision it started from. Throws ApiError `stale-revision`. */
  async save(name: string, definition: Dataset, revision: number): Promise<DatasetView> {
    await this.row(name);
    if (definition.name !== name) throw new ApiError('bad-request', 'This definition is of another dataset.');
    const saved = await this.connection.db
      .update(tables.datasets)
      .set({ draft: definition, draftRevision: revision + 1 })
      .where(and(eq(tables.datasets.name, name), eq(tables.datasets.draftRevision, revision)))
      .returning({ name: tables.datasets.name });
    if (saved.length === 0) {
      throw new ApiError('stale-revision', 'Someone else changed this dataset in the meantime. Reload it to go on from their version.');
    }
    return this.view(name);
  }

  /** Forgets the draft. */
  async discard(name: string): Promise<DatasetView> {
    await this.row(name);
    await this.connection.db
      .update(tables.datasets)
      .set({ draft: null, draftRevision: sql`${tables.datasets.draftRevision} + 1` })
      .where(eq(tables.datasets.name, name));
    return this.view(name);
  }

  /** What the data says of the draft. */
  async check(name: string): Promise<Finding[]> {
    const { definition } = await this.view(name);
    return this.withClient((client) => checkDataset(client, definition));
  }

  /** The reports that stand on what the draft changes, and what they would miss. */
  async touched(name: string): Promise<Touched> {
    const { definition, applied } = await this.view(name);
    const [before, after] = [namesOf(applied), namesOf(definition)];
    const changed = [...before].filter(([key, what]) => after.get(key) !== what).map(([key]) => key);
    const rows = await this.connection.db.select({ draft: tables.reports.draft }).from(tables.reports);
    const reports = rows
      .map(({ draft }) => draft)
      .filter((report) => report.dataset === name)
      .flatMap((report) => {
        const used = changed.filter((key) => mentions(report, key));
        return used.length > 0 ? [{ id: report.id, title: report.title, breaks: used.filter((key) => !after.has(key)) }] : [];
      });
    return { reports };
  }

  /** Makes the draft what everyone works with. Throws ApiError `dataset-refused` where that would make wrong numbers. */
  async apply(name: string): Promise<DatasetView> {
    const { definition, isDraft } = await this.view(name);
    if (!isDraft) return this.view(name);
    const parsed = datasetSchema.safeParse(definition);
    if (!parsed.success) throw new ApiError('dataset-refused', parsed.error.issues[0].message);
    const refused = (await this.check(name)).filter(({ kind }) => kind === 'refused');
    if (refused.length > 0) throw new ApiError('dataset-refused', refused.map(({ words }) => words).join(' '), { findings: refused });
    await this.connection.db
      .update(tables.datasets)
      .set({
        definition,
        draft: null,
        version: sql`${tables.datasets.version} + 1`,
        draftRevision: sql`${tables.datasets.draftRevision} + 1`,
        updatedAt: new Date(),
      })
      .where(eq(tables.datasets.name, name));
    this.catalogue.forget(name);
    return this.view(name);
  }

  /** Removes a dataset that no report stands on; its records stay. Throws ApiError `in-use` that names the reports. */
  async remove(name: string): Promise<void> {
    const { applied } = await this.view(name);
    const rows = await this.connection.db.select().from(tables.reports);
    const standing = rows.filter(
      ({ draft }) => draft.dataset === name || draft.exhibits.some((exhibit) => isDataExhibit(exhibit) && exhibit.dataset === name),
    );
    const titles = standing.filter(({ deletedAt }) => deletedAt === null).map(({ draft }) => draft.title);
    if (titles.length > 0) throw new ApiError('in-use', `${applied.label} is what ${titles.join(', ')} stands on. Remove that first.`);
    // Reports that were put away cannot come back without it.
    for (const { id } of standing) await this.connection.db.delete(tables.reports).where(eq(tables.reports.id, id));
    await this.connection.db.delete(tables.accessRules).where(eq(tables.accessRules.dataset, name));
    await this.connection.db.delete(tables.corrections).where(eq(tables.corrections.dataset, name));
    await this.connection.db.delete(tables.datasets).where(eq(tables.datasets.name, name));
    this.catalogue.forget(name);
  }

  /** The tables that a dataset can be made of: those of its own schema, and what was brought in. */
  async tables(name: string): Promise<DataTable[]> {
    const { definition } = await this.view(name);
    const known = new Map((await this.sources.list()).map((source) => [source.id, source]));
    const schemas = [...new Set([definition.schema, 'imported'])];
    const { rows } = await this.connection.pool.query<{
      schema: string;
      table: string;
      column: string;
      type: string;
      scale: number | null;
      rows: number;
    }>(
      `SELECT c.table_schema AS schema, c.table_name AS table, c.column_name AS column, c.data_type AS type, c.numeric_scale AS scale,
         greatest(p.reltuples, 0)::float8 AS rows
       FROM information_schema.columns AS c
       JOIN pg_class AS p ON p.relname = c.table_name AND p.relnamespace = (SELECT oid FROM pg_namespace WHERE nspname = c.table_schema)
       WHERE c.table_schema = ANY ($1) AND c.table_name NOT LIKE 'staging\\_%' ORDER BY c.table_schema, c.table_name, c.ordinal_position`,
      [schemas],
    );
    const found = new Map<string, DataTable>();
    for (const { schema, table, column, type, scale, rows: estimate } of rows) {
      const source = schema === 'imported' ? known.get(table) : undefined;
      const key = qualified(schema, table);
      let entry = found.get(key);
      if (!entry)
        found.set(
          key,
          (entry = { schema, table, label: source?.label ?? table.replaceAll('_', ' '), rows: source?.rows ?? estimate, columns: [] }),
        );
      const own = source?.columns.find((one) => one.column === column);
      const kind = SQL_TYPES[type] ?? 'text';
      entry.columns.push({
        column,
        label: own?.label ?? labelOf(column),
        type: kind,
        scale: kind === 'decimal' ? Math.min(scale ?? 4, 12) : 0,
      });
    }
    return [...found.values()];
  }

  /** Columns of facts that seem to name rows of tables: by their names and types, held against what they hold. */
  async suggestJoins(name: string): Promise<JoinSuggestion[]> {
    const { definition } = await this.view(name);
    const all = await this.tables(name);
    const suggestions: JoinSuggestion[] = [];
    for (const fact of definition.facts) {
      const own = all.find(({ schema, table }) => table === fact.table && schema === (fact.schema ?? definition.schema));
      const linked = new Set(fact.links.map(({ column }) => column));
      for (const column of own?.columns ?? []) {
        if (linked.has(column.column) || (column.type !== 'integer' && column.type !== 'text')) continue;
        for (const other of all) {
          const key = other.columns[0];
          if (other === own || key?.type !== column.type || !alike(column.column, key.column, other.table)) continue;
          const { rows } = await this.connection.pool.query<{ matched: number | null; unique: boolean }>(
            `SELECT (SELECT avg((EXISTS (SELECT FROM ${qualified(other.schema, other.table)} AS d WHERE d.${identifier(key.column)} = s.value))::int)::float8
               FROM (SELECT DISTINCT ${identifier(column.column)} AS value FROM ${tableOf(definition, fact)} AS f WHERE ${identifier(column.column)} IS NOT NULL LIMIT ${LOOKED_AT}) AS s) AS matched,
             NOT EXISTS (SELECT FROM ${qualified(other.schema, other.table)} GROUP BY ${identifier(key.column)} HAVING count(*) > 1) AS unique`,
          );
          const { matched, unique } = rows[0];
          if (matched === null || matched < 0.5 || !unique) continue;
          suggestions.push({
            fact: fact.name,
            column: column.column,
            schema: other.schema,
            table: other.table,
            tableLabel: other.label,
            key: key.column,
            matched,
          });
        }
      }
    }
    return suggestions.sort((a, b) => b.matched - a.matched);
  }

  /** The members of a dimension's levels as a tree, with the rows of its table below each. */
  async members(name: string, dimensionName: string): Promise<MemberNode[]> {
    const { definition } = await this.view(name);
    const dimension = definition.dimensions.find((one) => one.name === dimensionName);
    if (dimension?.kind !== 'table') throw new ApiError('not-found', 'This dimension has no members of its own.');
    const keys = dimension.levels.map(({ column }) => `${identifier(column)}::text`);
    const sets = keys.map((_, depth) => `(${keys.slice(0, depth + 1).join(', ')})`);
    const labels = dimension.levels.map(({ column, labelColumn }) => `min(${identifier(labelColumn ?? column)}::text)`);
    const { rows } = await this.connection.pool.query<{ depth: number; path: (string | null)[]; labels: string[]; rows: number }>(
      `SELECT * FROM (SELECT ${keys.length} - length(replace((grouping(${keys.join(', ')})::bit(${keys.length}))::text, '0', '')) AS depth,
         ARRAY[${keys.join(', ')}] AS path, ARRAY[${labels.join(', ')}] AS labels, count(*)::int AS rows
       FROM ${tableOf(definition, dimension)} AS t GROUP BY GROUPING SETS (${sets.join(', ')})) AS m
       ORDER BY path NULLS FIRST, depth LIMIT ${MOST_MEMBERS}`,
    );
    return rows
      .filter(({ depth, path }) => path[depth - 1] !== null || !dimension.tree)
      .map(({ depth, path, labels: words, rows: n }) => ({
        path: path.slice(0, depth),
        label: path[depth - 1] === null ? '–' : words[depth - 1],
        rows: n,
      }));
  }

  private async row(name: string): Promise<typeof tables.datasets.$inferSelect> {
    const [row] = await this.connection.db.select().from(tables.datasets).where(eq(tables.datasets.name, name));
    if (!row) throw new ApiError('not-found', `There is no dataset called "${name}". It may have been removed.`);
    return row;
  }

  private async withClient<Result>(use: (client: pg.PoolClient) => Promise<Result>): Promise<Result> {
    const client = await this.connection.pool.connect();
    try {
      return await use(client);
    } finally {
      client.release();
    }
  }
}

/** Whether a column's name may mean a table's key: the same name, or the table's name with "id". */
function alike(column: string, key: string, table: string): boolean {
  const bare = (text: string): string =>
    text
      .toLowerCase()
      .replace(/_[0-9a-f]{8}$/, '')
      .replaceAll(/[^a-z0-9]/g, '')
      .replace(/(id|key|code|no)$/, '')
      .replace(/s$/, '');
  return bare(column) !== '' && (bare(column) === bare(key) || bare(column) === bare(table));
}

/** Everything that reports call by name, with what it stands for. */
function namesOf(dataset: Dataset): Map<string, string> {
  const names = new Map<string, string>();
  for (const dimension of dataset.dimensions) {
    for (const level of dimension.levels) names.set(level.name, JSON.stringify(level));
    if (dimension.kind === 'table') for (const field of dimension.attributes) names.set(field.name, JSON.stringify(field));
  }
  for (const fact of dataset.facts) for (const field of fact.fields) names.set(field.name, JSON.stringify(field));
  for (const measure of dataset.measures) names.set(measure.name, JSON.stringify({ ...measure, formula: normalised(measure.formula) }));
  return names;
}

/** A formula in one notation, so that spaces alone are no change. */
function normalised(formula: string): string {
  try {
    return printFormula(parseFormula(formula));
  } catch {
    return formula;
  }
}

/** Whether a report's document holds a name anywhere as a value. */
function mentions(report: Report, name: string): boolean {
  const look = (value: unknown): boolean =>
    value === name || (typeof value === 'object' && value !== null && Object.values(value).some(look));
  return look(report);
}
