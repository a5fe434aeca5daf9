import type { Load, SourceView } from '@bold-compass/core/api';
import type { Dataset, Report } from '@bold-compass/core/model';
import { and, desc, eq, inArray, isNull, notInArray, or, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { tables, type Database, type AnyClient, type PoolClient } from '../database/index.ts';
import { maySee, type Caller } from '../people/index.ts';
import type { Instance } from '../instance/index.ts';
import { ApiError } from '../problems/index.ts';

export type SourceRow = typeof tables.sources.$inferSelect;
type LoadRow = typeof tables.loads.$inferSelect;

/** The tables that a dataset reads, by their ids. */
export const tablesOf = (dataset: Dataset): string[] => [
  ...dataset.facts.map(({ table }) => table),
  ...dataset.dimensions.flatMap((dimension) => (dimension.kind === 'table' ? dimension.table : [])),
];

/** Whether a dataset reads a table. */
const uses = (dataset: Dataset, table: string): boolean => tablesOf(dataset).includes(table);

const loadView = ({ id, kind, state, startedAt, finishedAt, rows, message, person }: LoadRow): Load => ({
  ...{ id, kind, state, rows, message, person },
  startedAt: startedAt.toISOString(),
  finishedAt: finishedAt?.toISOString() ?? null,
});

/** The records that datasets are made of, and the history of how they came in. */
export class SourceRegistry {
  constructor(
    private readonly db: Database,
    private readonly instance: Instance,
  ) {}

  /** A source by its id. Throws ApiError `not-found`. */
  async find(id: string): Promise<SourceRow> {
    const [row] = await this.db.select().from(tables.sources).where(eq(tables.sources.id, id));
    if (!row) throw new ApiError('not-found', 'These records are not here any more. Choose others.');
    return row;
  }

  /** Sources by their ids, as far as there are any. */
  async byId(ids: readonly string[]): Promise<Map<string, SourceRow>> {
    if (ids.length === 0) return new Map();
    const rows = await this.db
      .select()
      .from(tables.sources)
      .where(inArray(tables.sources.id, [...new Set(ids)]));
    return new Map(rows.map((row) => [row.id, row]));
  }

  /** The sources that a person sees: what datasets of theirs are made of, and what nobody or they themselves made. */
  async list(caller: Caller): Promise<SourceView[]> {
    const [rows, datasets] = await Promise.all([
      this.db.select().from(tables.sources).orderBy(tables.sources.label),
      this.db.select().from(tables.datasets),
    ]);
    const newest = rows.length
      ? await this.db
          .selectDistinctOn([tables.loads.source])
          .from(tables.loads)
          .where(
            inArray(
              tables.loads.source,
              rows.map(({ id }) => id),
            ),
          )
          .orderBy(tables.loads.source, desc(tables.loads.id))
      : [];
    const isSeen = (row: SourceRow): boolean => {
      const readers = datasets.filter(({ definition }) => uses(definition, row.id));
      if (caller.person.role === 'steward' || row.owner === caller.person.id) return true;
      return readers.length === 0 ? row.owner === null : readers.some((dataset) => maySee(caller, dataset));
    };
    return rows.filter(isSeen).map((row) => {
      const load = newest.find(({ source }) => source === row.id);
      const { id, label, origin, columns, key, live, schedule, revision, recipe } = row;
      return {
        ...{ id, label, origin, columns, key, rows: row.rows, live, schedule, revision, recipe },
        updatedAt: row.updatedAt.toISOString(),
        datasets: datasets
          .filter((dataset) => uses(dataset.definition, row.id) && maySee(caller, dataset))
          .map(({ name, definition }) => ({ name, label: definition.label })),
        load: load ? loadView(load) : null,
      };
    });
  }

  /** How the records came in, the newest first. */
  async loads(caller: Caller, id: string): Promise<Load[]> {
    await this.requireSeen(caller, id);
    const rows = await this.db.select().from(tables.loads).where(eq(tables.loads.source, id)).orderBy(desc(tables.loads.id)).limit(50);
    return rows.map(loadView);
  }

  /** Throws ApiError `not-found` for a source that is not there, or not a person's to see. */
  async requireSeen(caller: Caller, id: string): Promise<void> {
    const seen = await this.list(caller);
    if (!seen.some((source) => source.id === id)) throw new ApiError('not-found', 'These records are not here any more. Choose others.');
  }

  /** Whether records of a source have ever arrived. */
  async hasRecords(id: string): Promise<boolean> {
    const rows = await this.db
      .select({ id: tables.loads.id })
      .from(tables.loads)
      .where(and(eq(tables.loads.source, id), eq(tables.loads.state, 'done')))
      .limit(1);
    return rows.length > 0;
  }

  /** The documents of all reports: drafts, and the newest editions that readers have. */
  async reportDocuments(): Promise<Report[]> {
    const { reports, editions } = tables;
    const [drafts, published] = await Promise.all([
      this.db.select({ document: reports.draft }).from(reports).where(isNull(reports.deletedAt)),
      this.db
        .selectDistinctOn([editions.report], { document: editions.document })
        .from(editions)
        .innerJoin(reports, and(eq(reports.id, editions.report), isNull(reports.deletedAt)))
        .orderBy(editions.report, desc(editions.number)),
    ]);
    return [...drafts, ...published].map(({ document }) => document);
  }

  /** The datasets that read a source's table; inside a transaction with its client. */
  async datasetsOf(id: string, client?: PoolClient): Promise<Dataset[]> {
    const db = client ? drizzle(client) : this.db;
    const rows = await db.select({ definition: tables.datasets.definition }).from(tables.datasets).orderBy(tables.datasets.name);
    return rows.map(({ definition }) => definition).filter((definition) => uses(definition, id));
  }

  /** Whether a source was given a file of this very content before. */
  async hadContent(client: AnyClient, id: string, content: string): Promise<boolean> {
    const { rows } = await client.query(`SELECT FROM app.loads WHERE source_id = $1 AND content = $2 AND state = 'done' LIMIT 1`, [
      id,
      content,
    ]);
    return rows.length > 0;
  }

  /** A server that was killed leaves loads that run no more; those of other servers go on. */
  async sweep(): Promise<void> {
    const running = await this.instance.running();
    await this.db
      .update(tables.loads)
      .set({ state: 'failed', finishedAt: new Date(), message: sql`'The server was stopped in the middle. Nothing was changed.'` })
      .where(and(eq(tables.loads.state, 'running'), or(isNull(tables.loads.instance), notInArray(tables.loads.instance, [...running]))));
  }
}
