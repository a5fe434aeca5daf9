import type { Load, SourceView } from '@bold-compass/core/api';
import type { Dataset } from '@bold-compass/core/model';
import { desc, eq, inArray, sql } from 'drizzle-orm';
import { tables, type Database } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';

export type SourceRow = typeof tables.sources.$inferSelect;
type LoadRow = typeof tables.loads.$inferSelect;

/** Whether a dataset reads a table. */
export function uses(dataset: Dataset, schema: string, table: string): boolean {
  const isIt = (part: { table: string; schema?: string }): boolean => part.table === table && (part.schema ?? dataset.schema) === schema;
  return dataset.facts.some(isIt) || dataset.dimensions.some((dimension) => dimension.kind !== 'calendar' && isIt(dimension));
}

const loadView = ({ id, kind, state, startedAt, finishedAt, rows, message, person }: LoadRow): Load => ({
  ...{ id, kind, state, rows, message, person },
  startedAt: startedAt.toISOString(),
  finishedAt: finishedAt?.toISOString() ?? null,
});

/** The records that datasets are made of, and the history of how they came in. */
export class SourceRegistry {
  constructor(private readonly db: Database) {}

  /** A source by its id. Throws ApiError `not-found`. */
  async find(id: string): Promise<SourceRow> {
    const [row] = await this.db.select().from(tables.sources).where(eq(tables.sources.id, id));
    if (!row) throw new ApiError('not-found', 'These records are not here any more. Choose others.');
    return row;
  }

  async list(): Promise<SourceView[]> {
    const [rows, datasets] = await Promise.all([
      this.db.select().from(tables.sources).orderBy(tables.sources.label),
      this.db.select({ name: tables.datasets.name, definition: tables.datasets.definition }).from(tables.datasets),
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
    return rows.map((row) => {
      const load = newest.find(({ source }) => source === row.id);
      const { id, label, origin, columns, key, live, schedule } = row;
      return {
        ...{ id, label, origin, columns, key, rows: row.rows, live, schedule },
        updatedAt: row.updatedAt.toISOString(),
        datasets: datasets
          .filter(({ definition }) => uses(definition, row.schema, row.table))
          .map(({ name, definition }) => ({ name, label: definition.label })),
        load: load ? loadView(load) : null,
      };
    });
  }

  /** How the records came in, the newest first. */
  async loads(id: string): Promise<Load[]> {
    await this.find(id);
    const rows = await this.db.select().from(tables.loads).where(eq(tables.loads.source, id)).orderBy(desc(tables.loads.id)).limit(50);
    return rows.map(loadView);
  }

  /** The datasets that read a source's table. */
  async datasetsOf({ schema, table }: Pick<SourceRow, 'schema' | 'table'>): Promise<Dataset[]> {
    const rows = await this.db.select({ definition: tables.datasets.definition }).from(tables.datasets).orderBy(tables.datasets.name);
    return rows.map(({ definition }) => definition).filter((definition) => uses(definition, schema, table));
  }

  /** A server that was killed leaves loads that run no more. */
  async sweep(): Promise<void> {
    await this.db
      .update(tables.loads)
      .set({ state: 'failed', finishedAt: new Date(), message: sql`'The server was stopped in the middle. Nothing was changed.'` })
      .where(eq(tables.loads.state, 'running'));
  }
}
