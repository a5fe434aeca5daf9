import type { DatasetView, DataTable, FieldUses, Finding, JoinSuggestion, MemberNode, Touched } from '@bold-compass/core/api';
import { fieldsReadOf } from '@bold-compass/core/exhibits';
import { namesIn, parseFormula, printFormula } from '@bold-compass/core/formula';
import { mergeDefinitions, type MergedDefinition } from '@bold-compass/core/modelling';
import { datasetSchema, isDataExhibit, isNumberType, type Dataset, type Field, type Report } from '@bold-compass/core/model';
import { and, desc, eq, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { createReaderMemory, DatasetReader, type Catalogue } from '../data/index.ts';
import { inTransaction, sqlState, tables, withClient, type Connection } from '../database/index.ts';
import { maySee, seesAll, type Caller } from '../people/index.ts';
import { ApiError, staleRevision } from '../problems/index.ts';
import { tablesOf, type SourceRegistry, type SourceRow } from '../sources/index.ts';
import { identifier, registered, tableOf } from '../sql/index.ts';
import { Threads } from '../threads/index.ts';
import type { TableStore } from '../tables/index.ts';
import { affectedMeasures, changedMeasures, changedValues } from './changed-measures.ts';
import { CheckQueue } from './check-queue.ts';
import { checkDataset } from './checks.ts';
import type { FormulaFindings } from './formula-findings.ts';
import { registryFindings } from './soundness.ts';

/** Values looked at to see whether a column names rows of a table. */
const LOOKED_AT = 2_000;
const MOST_MEMBERS = 2_000;
/** Milliseconds that the check of all formulas may take. */
const LONGEST_CHECK = 20_000;

/** Definitions of datasets: worked on as drafts, checked on the data, applied in one step. */
export class DatasetEditor {
  private readonly queue = new CheckQueue();
  private readonly formulas = new Threads<Dataset>(import.meta.url, './formula-worker.js', './formula-worker.ts', 1);

  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly sources: SourceRegistry,
    private readonly store: TableStore,
  ) {}

  close(): Promise<void> {
    return this.formulas.close();
  }

  /** A dataset with its draft. Throws ApiError `not-found`, and `not-allowed` for who does not see all of it. */
  async view(caller: Caller, name: string): Promise<DatasetView> {
    return viewOf(await this.row(caller, name));
  }

  /** Saves a draft from the revision it started from. Throws ApiError `stale-revision`, `dataset-refused`. */
  async save(
    caller: Caller,
    name: string,
    { definition, revision, base }: { definition: Dataset; revision: number; base?: Dataset },
  ): Promise<DatasetView> {
    const row = await this.row(caller, name);
    if (definition.name !== name) throw new ApiError('bad-request', 'This definition is of another dataset.');
    await this.requireTables(caller, definition, row.definition);
    const saved = await this.connection.db
      .update(tables.datasets)
      // A draft keeps the definition that it began from: whatever was applied or imported since is merged into it.
      .set({ draft: definition, draftBase: row.draftBase ?? base ?? row.definition, draftRevision: revision + 1 })
      .where(and(eq(tables.datasets.name, name), eq(tables.datasets.draftRevision, revision)))
      .returning();
    if (saved.length === 0) throw staleRevision(`the draft of ${row.definition.label}`, row.draftRevision);
    return viewOf(saved[0]);
  }

  /** Discards the draft of a revision. Throws ApiError `stale-revision`. */
  async discard(caller: Caller, name: string, revision: number): Promise<DatasetView> {
    const row = await this.row(caller, name);
    const saved = await this.connection.db
      .update(tables.datasets)
      .set({ draft: null, draftBase: null, draftRevision: revision + 1 })
      .where(and(eq(tables.datasets.name, name), eq(tables.datasets.draftRevision, revision)))
      .returning();
    if (saved.length === 0) throw staleRevision(`the draft of ${row.definition.label}`, row.draftRevision);
    return viewOf(saved[0]);
  }

  /** What the registry and the data say of the draft. */
  async check(caller: Caller, name: string): Promise<Finding[]> {
    const { definition, version, draftRevision } = await this.view(caller, name);
    return this.queue.share(`${name} ${version} ${draftRevision}`, () => this.findings(definition));
  }

  private async findings(definition: Dataset): Promise<Finding[]> {
    const missing = registryFindings(definition, await this.sources.byId(tablesOf(definition)));
    // What is not there cannot be asked for anything else.
    if (missing.length > 0) return missing;
    const formulas = await this.formulas.runFor<FormulaFindings>(definition, LONGEST_CHECK);
    return withClient(this.connection.checks, (client) => checkDataset(client, definition, formulas));
  }

  /** The reports that stand on what the draft changes, as drafts or as editions, and what they would miss. */
  async touched(caller: Caller, name: string): Promise<Touched> {
    const { definition, applied } = await this.view(caller, name);
    const [before, after] = [namesOf(applied), namesOf(definition)];
    const labels = labelsOf(applied);
    const changed = [...before].filter(([key, what]) => after.get(key) !== what).map(([key]) => key);
    const affected = affectedMeasures(applied, definition);
    const ofOtherType = retypedFields(applied, definition);
    const reader = new DatasetReader(await this.catalogue.open(name), caller.rules, createReaderMemory());
    const reports = new Map<string, Touched['reports'][number]>();
    for (const report of await this.sources.reportDocuments()) {
      if (!stands(report, name)) continue;
      const used = changed.filter((key) => mentions(report, key));
      const known = reports.get(report.id);
      const values = known?.values ?? (affected.size > 0 ? await changedValues(reader, report, definition, affected) : []);
      if (used.length === 0 && values.length === 0) continue;
      const breaks = new Set([...(known?.breaks ?? []), ...used.filter((key) => !after.has(key)).map((key) => labels.get(key) ?? key)]);
      const retyped = ofOtherType.flatMap(({ name: field, ...one }) => (mentions(report, field) ? [one] : []));
      reports.set(report.id, {
        ...{ id: report.id, title: known?.title ?? report.title, breaks: [...breaks], values },
        // Its edition may name others than its draft.
        retyped: [...new Map([...(known?.retyped ?? []), ...retyped].map((one) => [one.label, one])).values()],
      });
    }
    return { reports: [...reports.values()] };
  }

  /** Titles of the reports that read each field, as drafts or as editions. */
  async fieldUses(caller: Caller, name: string): Promise<FieldUses> {
    await this.view(caller, name);
    const titles = new Map<string, Map<string, string>>();
    for (const report of await this.sources.reportDocuments())
      for (const field of fieldsReadOf(report, name))
        titles.set(field, (titles.get(field) ?? new Map<string, string>()).set(report.id, report.title));
    return Object.fromEntries([...titles].map(([field, own]) => [field, [...own.values()]]));
  }

  /**
   * Makes the draft of a revision what everyone works with. Throws ApiError `dataset-refused` where that would make wrong
   * numbers, and `stale-revision` where the draft was changed, also while it was checked.
   */
  async apply(caller: Caller, name: string, revision: number): Promise<DatasetView> {
    const row = await this.row(caller, name);
    if (row.draftRevision !== revision) throw staleRevision(`the draft of ${row.definition.label}`, row.draftRevision);
    const draft = draftOf(row);
    if (draft === null) return viewOf(row);
    if (draft.conflicts.length > 0)
      throw new ApiError(
        'dataset-refused',
        `${row.definition.label} was changed since this draft began, and both changed ${draft.conflicts.join(', ')}. Save the draft again to keep yours, or discard it.`,
        { conflicts: draft.conflicts },
      );
    const parsed = datasetSchema.safeParse(draft.merged);
    if (!parsed.success) throw new ApiError('dataset-refused', parsed.error.issues[0].message);
    const definition = parsed.data;
    await this.requireTables(caller, definition, row.definition);
    const refused = (await this.queue.run(() => this.findings(definition))).filter(({ kind }) => kind === 'refused');
    if (refused.length > 0) throw new ApiError('dataset-refused', refused.map(({ words }) => words).join(' '), { findings: refused });
    const applied = await inTransaction(this.connection.pool, async (client) => {
      const saved = await drizzle(client)
        .update(tables.datasets)
        .set({
          definition,
          ...{ draft: null, draftBase: null },
          version: sql`${tables.datasets.version} + 1`,
          draftRevision: sql`${tables.datasets.draftRevision} + 1`,
          updatedAt: new Date(),
        })
        .where(
          and(
            eq(tables.datasets.name, name),
            eq(tables.datasets.draftRevision, revision),
            // Nothing was applied or imported while this was checked.
            eq(tables.datasets.version, row.version),
          ),
        )
        .returning();
      if (saved.length === 0) throw staleRevision(`the draft of ${definition.label}`, revision + 1);
      const changes = [...changedMeasures(row.definition, definition)].map(([measure, { after }]) => ({
        ...{ dataset: name, measure, formula: after?.formula ?? null, person: caller.person.id },
      }));
      if (changes.length > 0) await drizzle(client).insert(tables.measureChanges).values(changes);
      for (const table of new Set([...tablesOf(row.definition), ...tablesOf(definition)])) {
        if ((await this.sources.byId([table])).get(table)?.live === false) await this.store.keepKeys(client, table);
      }
      return saved[0];
    }).catch((error: unknown) => {
      // Records that came in during the checks may have brought a key a second time.
      if (sqlState(error) === '23505')
        throw new ApiError('dataset-refused', `A key of ${definition.label} stands in several records now. Check the dataset again.`);
      throw error;
    });
    this.catalogue.forget(name);
    return viewOf(applied);
  }

  /** Deletes a dataset that no report stands on; its records stay. Throws ApiError `in-use` that names the reports. */
  async remove(caller: Caller, name: string): Promise<void> {
    const { definition } = await this.row(caller, name);
    await inTransaction(this.connection.pool, async (client) => {
      const db = drizzle(client);
      await client.query('LOCK TABLE app.reports IN SHARE ROW EXCLUSIVE MODE');
      const rows = await db.select().from(tables.reports);
      // What managers read holds it as well as what is composed.
      const newest = await db
        .selectDistinctOn([tables.editions.report], { report: tables.editions.report, document: tables.editions.document })
        .from(tables.editions)
        .orderBy(tables.editions.report, desc(tables.editions.number));
      const published = new Map(newest.map(({ report, document }) => [report, document]));
      const using = rows.filter(({ id, draft }) => [draft, published.get(id)].some((document) => document && stands(document, name)));
      const titles = using.filter(({ deletedAt }) => deletedAt === null).map(({ draft }) => draft.title);
      if (titles.length > 0) throw new ApiError('in-use', `${definition.label} is used by ${titles.join(', ')}. Delete that first.`);
      // Reports in the bin cannot be restored without it.
      for (const { id } of using) await db.delete(tables.reports).where(eq(tables.reports.id, id));
      await db.delete(tables.accessRules).where(eq(tables.accessRules.dataset, name));
      await db.delete(tables.corrections).where(eq(tables.corrections.dataset, name));
      await db.delete(tables.datasets).where(eq(tables.datasets.name, name));
      for (const table of new Set(tablesOf(definition))) await this.store.keepKeys(client, table);
    });
    await this.catalogue.removed(name);
  }

  /** The tables that a dataset can be made of: registered ones whose records the caller sees. */
  async tables(caller: Caller, name: string): Promise<DataTable[]> {
    const { definition } = await this.view(caller, name);
    const own = new Set(tablesOf(definition));
    const found: DataTable[] = [];
    for (const { source, usable } of await this.usableSources(caller)) {
      if (source.live || (!usable && !own.has(source.id))) continue;
      const columns = source.columns.map(({ column, label, type, scale }) => ({ column, label, type, scale }));
      found.push({ table: source.id, label: source.label, rows: source.rows, columns });
    }
    return found;
  }

  /** Columns of facts that seem to name rows of tables: by their names and types, held against what they hold. */
  async suggestJoins(caller: Caller, name: string): Promise<JoinSuggestion[]> {
    const { definition } = await this.view(caller, name);
    await this.requireRegistered(definition);
    const all = await this.tables(caller, name);
    const suggestions: JoinSuggestion[] = [];
    for (const fact of definition.facts) {
      const own = all.find(({ table }) => table === fact.table);
      const linked = new Set(fact.links.map(({ column }) => column));
      for (const column of own?.columns ?? []) {
        if (linked.has(column.column) || (column.type !== 'integer' && column.type !== 'text')) continue;
        for (const other of all) {
          const key = other.columns[0];
          if (other === own || key?.type !== column.type || !alike(column.column, key.column, other.table)) continue;
          const { rows } = await this.queue.run(() =>
            this.connection.checks.query<{ matched: number | null; unique: boolean }>(
              `SELECT (SELECT avg((EXISTS (SELECT FROM ${registered(other.table)} AS d WHERE d.${identifier(key.column)} = s.value))::int)::float8
               FROM (SELECT DISTINCT ${identifier(column.column)} AS value FROM ${tableOf(definition, fact)} AS f WHERE ${identifier(column.column)} IS NOT NULL LIMIT ${LOOKED_AT}) AS s) AS matched,
             NOT EXISTS (SELECT FROM ${registered(other.table)} GROUP BY ${identifier(key.column)} HAVING count(*) > 1) AS unique`,
            ),
          );
          const { matched, unique } = rows[0];
          if (matched === null || matched < 0.5 || !unique) continue;
          const { table, label: tableLabel } = other;
          suggestions.push({ fact: fact.name, column: column.column, table, tableLabel, key: key.column, matched });
        }
      }
    }
    return suggestions.sort((a, b) => b.matched - a.matched);
  }

  /** The members of a dimension's levels as a tree, with the rows of its table below each. */
  async members(caller: Caller, name: string, dimensionName: string): Promise<MemberNode[]> {
    const { definition } = await this.view(caller, name);
    await this.requireRegistered(definition);
    const dimension = definition.dimensions.find((one) => one.name === dimensionName);
    if (dimension?.kind !== 'table') throw new ApiError('not-found', 'This dimension has no members of its own.');
    const keys = dimension.levels.map(({ column }) => `${identifier(column)}::text`);
    const sets = keys.map((_, depth) => `(${keys.slice(0, depth + 1).join(', ')})`);
    const labels = dimension.levels.map(({ column, labelColumn }) => `min(${identifier(labelColumn ?? column)}::text)`);
    const { rows } = await this.connection.checks.query<{ depth: number; path: (string | null)[]; labels: string[]; rows: number }>(
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

  private async row(caller: Caller, name: string): Promise<Row> {
    const [row] = await this.connection.db.select().from(tables.datasets).where(eq(tables.datasets.name, name));
    // What is not a person's to see is not told apart from what is not there.
    if (!row || !maySee(caller, row)) throw new ApiError('not-found', `There is no dataset called "${name}". It may have been deleted.`);
    const { definition, owner, accessDecided } = row;
    if (!seesAll(caller, { dataset: definition, owner, accessDecided })) {
      throw new ApiError(
        'not-allowed',
        `Access rules show you a part of ${definition.label}, so what it means is for someone who sees all of it to change.`,
      );
    }
    return row;
  }

  /** All sources, and whether a person may make datasets of each: of what they see whole anyway, or made themselves. */
  private async usableSources(caller: Caller): Promise<{ source: SourceRow; usable: boolean }[]> {
    const [sources, datasets] = await Promise.all([
      this.connection.db.select().from(tables.sources).orderBy(tables.sources.label),
      this.connection.db.select().from(tables.datasets),
    ]);
    return sources.map((source) => {
      const readers = datasets.filter(({ definition }) => tablesOf(definition).includes(source.id));
      const seen = readers.some(({ definition, owner, accessDecided }) => seesAll(caller, { dataset: definition, owner, accessDecided }));
      const unread = readers.length === 0 && source.owner === null;
      return { source, usable: seen || unread || source.owner === caller.person.id };
    });
  }

  /** Refuses tables that a definition names for the first time and that are not registered, or not the caller's to see. */
  private async requireTables(caller: Caller, definition: Dataset, applied: Dataset): Promise<void> {
    const known = new Set(tablesOf(applied));
    const fresh = tablesOf(definition).filter((table) => !known.has(table));
    if (fresh.length === 0) return;
    const usable = new Set((await this.usableSources(caller)).filter((one) => one.usable).map(({ source }) => source.id));
    const unknown = fresh.find((table) => !usable.has(table));
    if (unknown !== undefined)
      throw new ApiError(
        'dataset-refused',
        `There is no imported table “${unknown}” that you may use. Choose one from the list of tables.`,
      );
  }

  /** Refuses to ask for what is not registered. */
  private async requireRegistered(definition: Dataset): Promise<void> {
    const [missing] = registryFindings(definition, await this.sources.byId(tablesOf(definition)));
    if (missing) throw new ApiError('dataset-broken', missing.words);
  }
}

type Row = typeof tables.datasets.$inferSelect;

/** The draft with what was applied since it began; null where there is none. */
const draftOf = ({ definition, draft, draftBase }: Row): MergedDefinition | null =>
  draft && (draftBase ? mergeDefinitions(draftBase, draft, definition) : { merged: draft, conflicts: [] });

function viewOf(row: Row): DatasetView {
  const { definition: applied, version, draftRevision } = row;
  return { definition: draftOf(row)?.merged ?? applied, applied, version, draftRevision, isDraft: row.draft !== null };
}

/** Whether a report, or one of its exhibits, answers from a dataset. */
const stands = (report: Report, dataset: string): boolean =>
  report.dataset === dataset || report.exhibits.some((exhibit) => isDataExhibit(exhibit) && exhibit.dataset === dataset);

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

/** The labels of everything that reports call by name. */
function labelsOf({ dimensions, facts, measures }: Dataset): Map<string, string> {
  const named = [
    ...dimensions.flatMap((dimension) => [...dimension.levels, ...(dimension.kind === 'table' ? dimension.attributes : [])]),
    ...facts.flatMap(({ fields }) => fields),
    ...measures,
  ];
  return new Map(named.map(({ name, label }) => [name, label]));
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

/** Fields that two definitions have and that are of another type in the second; numbers stay numbers. */
function retypedFields(before: Dataset, after: Dataset): ({ name: string } & Touched['reports'][number]['retyped'][number])[] {
  const fieldsOf = ({ facts }: Dataset): Field[] => facts.flatMap(({ fields }) => fields);
  return fieldsOf(before).flatMap((field) => {
    const other = fieldsOf(after).find(({ name }) => name === field.name);
    if (!other || other.type === field.type || (isNumberType(other.type) && isNumberType(field.type))) return [];
    return [{ name: field.name, label: field.label, before: field.type, after: other.type }];
  });
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
  return look(report) || report.measures.some(({ formula }) => namesIn(formula).has(name.toLowerCase()));
}
