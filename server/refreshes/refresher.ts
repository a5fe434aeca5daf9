import { randomUUID } from 'node:crypto';
import type { Drift, RefreshChoice } from '@bold-compass/core/api';
import { labelOf } from '@bold-compass/core/format';
import type { SourceColumn, SqlOrigin } from '@bold-compass/core/model';
import { datasetFor, firstReport, nameFor } from '@bold-compass/core/modelling';
import { Cron } from 'croner';
import { and, eq, isNotNull, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import type { Connections, Inquiry, QueryColumn } from '../connections/index.ts';
import type { Catalogue } from '../data/index.ts';
import { tables, type Connection } from '../database/index.ts';
import { asApiError } from '../http/errors.ts';
import { ApiError } from '../http/problems.ts';
import { distinctCounts, IMPORTED, type ImportCrew } from '../imports/index.ts';
import type { SourceRegistry, SourceRow } from '../sources/index.ts';
import { identifier, qualified } from '../sql/index.ts';
import { columnDrift, touchedBy } from './drift.ts';

interface Running {
  load: number;
  share: number;
  abort: AbortController;
  done: Promise<void>;
}

const KEEPS = 'The last good records stay in use.';

/** Brings the answers of queries in: once at first, then by hand or on a schedule. Readers keep the last good records meanwhile. */
export class Refresher {
  private readonly running = new Map<string, Running>();
  private readonly schedules = new Map<string, Cron>();

  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly registry: SourceRegistry,
    private readonly connections: Connections,
    private readonly inquiry: Inquiry,
    private readonly crew: ImportCrew,
  ) {}

  /** Sets the schedules going. Once, at the start. */
  async begin(): Promise<void> {
    const rows = await this.connection.db.select().from(tables.sources).where(isNotNull(tables.sources.schedule));
    for (const { id, schedule } of rows) this.plan(id, schedule);
  }

  close(): void {
    for (const cron of this.schedules.values()) cron.stop();
    for (const { abort } of this.running.values()) abort.abort();
  }

  /** How far a refresh is, as a share of 1; null when none runs. */
  progress(id: string): number | null {
    return this.running.get(id)?.share ?? null;
  }

  /** Makes a source from a query and begins to bring its records in; it becomes a dataset when they are there. */
  async create(label: string, origin: SqlOrigin, live: boolean, person: string): Promise<string> {
    const { columns } = await this.inquiry.check(origin);
    const taken = new Set<string>();
    const id = `${nameFor(label, new Set())}_${randomUUID().slice(0, 8)}`;
    const own = columns.map(({ name, type, scale }): SourceColumn => ({
      column: nameFor(name, taken),
      label: labelOf(name),
      from: name,
      type,
      scale,
    }));
    await this.connection.db.insert(tables.sources).values({ id, label, schema: IMPORTED, table: id, columns: own, origin, live });
    if (live) await this.leaveThere(await this.registry.find(id), person);
    else await this.start(await this.registry.find(id), { mapping: {} }, person, true);
    return id;
  }

  /** Makes a dataset over records that stay where they are. */
  private async leaveThere(source: SourceRow, person: string): Promise<void> {
    const columns = source.columns.map(({ column, label: name, type, scale }) => ({ column, name, type, scale }));
    const name = source.id.replaceAll('_', '-');
    const dataset = datasetFor(name, source.label, source.schema, source.table, columns);
    dataset.facts[0].live = true;
    // How many members texts have is not asked there: the first text becomes the first axis.
    const report = firstReport(name, dataset, columns, new Map(columns.map(({ column }) => [column, 2])));
    await this.connection.db.transaction(async (db) => {
      await db.insert(tables.datasets).values({ name, definition: dataset });
      await db.insert(tables.reports).values({ id: name, draft: report, owner: person });
      await db
        .insert(tables.loads)
        .values({ source: source.id, kind: 'import', state: 'done', finishedAt: new Date(), person, message: 'Left where it is.' });
    });
  }

  /** Begins to bring the records of a source in anew. Throws ApiError where that is going on already. */
  async refresh(id: string, choice: RefreshChoice, person: string | null): Promise<void> {
    await this.start(await this.registry.find(id), choice, person, false);
  }

  /**
   * Gives a source another query or other values. Records that were brought in are fetched anew, which stops where
   * columns have changed; records left where they are must answer what is read of them. Throws ApiError `source-drifted`.
   */
  async rewrite(id: string, { text, parameters }: Pick<SqlOrigin, 'text' | 'parameters'>, person: string): Promise<void> {
    const source = await this.registry.find(id);
    const origin = { ...queryOf(source), text, parameters };
    const next = { ...source, origin };
    const drift = await this.compare(next);
    if (source.live) settleDrift(source, origin, drift, { mapping: {}, added: 'leave' });
    await this.connection.db.update(tables.sources).set({ origin, updatedAt: new Date() }).where(eq(tables.sources.id, id));
    if (!source.live) return this.start(next, { mapping: {} }, person, false);
    for (const { name } of await this.registry.datasetsOf(source)) {
      await this.connection.db
        .update(tables.datasets)
        .set({ version: sql`${tables.datasets.version} + 1`, updatedAt: new Date() })
        .where(eq(tables.datasets.name, name));
      this.catalogue.forget(name);
    }
  }

  /** Removes records that no dataset reads any more. Throws ApiError `in-use` that names those that do. */
  async remove(id: string): Promise<void> {
    const source = await this.registry.find(id);
    const used = await this.registry.datasetsOf(source);
    if (used.length > 0) {
      throw new ApiError('in-use', `${source.label} is read by ${used.map(({ label }) => label).join(', ')}. Remove that first.`);
    }
    await this.cancel(id);
    this.plan(id, null);
    await this.connection.db.transaction(async (db) => {
      await db.delete(tables.sources).where(eq(tables.sources.id, id));
      if (!source.live) await db.execute(sql.raw(`DROP TABLE IF EXISTS ${qualified(source.schema, source.table)}`));
    });
  }

  async cancel(id: string): Promise<void> {
    const running = this.running.get(id);
    running?.abort.abort();
    await running?.done;
  }

  /** When a source is refreshed by itself: a cron expression in UTC, or null. Throws ApiError for one that is none. */
  async setSchedule(id: string, schedule: string | null): Promise<void> {
    await this.registry.find(id);
    this.plan(id, schedule);
    await this.connection.db.update(tables.sources).set({ schedule }).where(eq(tables.sources.id, id));
  }

  /** What has changed at the source since its records came in, and what that would touch here. */
  async drift(source: SourceRow): Promise<Drift> {
    const { missing, retyped, added, touches } = await this.compare(source);
    return { missing, retyped, added, touches };
  }

  private async compare(source: SourceRow): Promise<Drift & { answered: QueryColumn[] }> {
    const origin = queryOf(source);
    const { columns: answered } = await this.inquiry.check(origin);
    const drift = columnDrift(source.columns, answered, origin.ignored);
    const harmed = new Set([...drift.missing, ...drift.retyped.map(({ column }) => column)]);
    const columns = source.columns.filter(({ from }) => harmed.has(from)).map(({ column }) => column);
    const [datasets, reports] = await Promise.all([
      this.registry.datasetsOf(source),
      this.connection.db.select({ draft: tables.reports.draft }).from(tables.reports),
    ]);
    const isTable: Parameters<typeof touchedBy>[1] = (part, dataset) =>
      part.table === source.table && (part.schema ?? dataset.schema) === source.schema;
    return {
      ...drift,
      answered,
      touches: touchedBy(
        columns,
        isTable,
        datasets,
        reports.map(({ draft }) => draft),
      ),
    };
  }

  private plan(id: string, schedule: string | null): void {
    let cron: Cron | undefined;
    try {
      cron =
        schedule === null
          ? undefined
          : new Cron(schedule, { timezone: 'UTC' }, () => void this.refresh(id, { mapping: {} }, null).catch(() => undefined));
    } catch {
      throw new ApiError(
        'bad-request',
        'This is no schedule. Write it as minute, hour, day, month, weekday: “0 5 * * *” is each day at 5.',
      );
    }
    this.schedules.get(id)?.stop();
    if (cron) this.schedules.set(id, cron);
    else this.schedules.delete(id);
  }

  private async start(source: SourceRow, choice: RefreshChoice, person: string | null, first: boolean): Promise<void> {
    queryOf(source);
    if (source.live) throw new ApiError('bad-request', `${source.label} stays where it is: every question asks it anew.`);
    if (this.running.has(source.id)) throw new ApiError('bad-request', `${source.label} is being refreshed already. Wait, or cancel that.`);
    const running: Running = { load: 0, share: 0, abort: new AbortController(), done: Promise.resolve() };
    this.running.set(source.id, running);
    try {
      const [{ id: load }] = await this.connection.db
        .insert(tables.loads)
        .values({ source: source.id, kind: first ? 'import' : 'refresh', state: 'running', person })
        .returning({ id: tables.loads.id });
      running.load = load;
    } catch (error) {
      this.running.delete(source.id);
      throw error;
    }
    running.done = this.run(source, choice, running, person, first)
      .then((rows) => this.finish(running.load, 'done', '', rows))
      .catch((error: unknown) => {
        if (running.abort.signal.aborted) return this.finish(running.load, 'cancelled', first ? '' : KEEPS);
        const { code, message } = asApiError(error);
        return this.finish(running.load, code === 'source-drifted' ? 'stopped' : 'failed', first ? message : `${message} ${KEEPS}`);
      })
      .catch(() => undefined)
      .finally(() => this.running.delete(source.id));
  }

  private async finish(
    load: number,
    state: 'done' | 'stopped' | 'failed' | 'cancelled',
    message: string,
    rows: number | null = null,
  ): Promise<void> {
    await this.connection.db
      .update(tables.loads)
      .set({ state, message, rows, finishedAt: new Date() })
      .where(and(eq(tables.loads.id, load), eq(tables.loads.state, 'running')));
  }

  private async run(source: SourceRow, choice: RefreshChoice, running: Running, person: string | null, first: boolean): Promise<number> {
    const origin = queryOf(source);
    const { columns, ignored } = settleDrift(source, origin, await this.compare(source), choice);
    const staging = `staging_${randomUUID().replaceAll('-', '')}`;
    try {
      const { rows } = await this.crew.run(
        'fetch',
        {
          ...{ url: this.connection.url, schema: IMPORTED, table: staging, origin, columns, expected: source.rows },
          remote: await this.connections.credentials(origin.connection),
        },
        (share) => (running.share = share),
        running.abort.signal,
      );
      await this.swap({ ...source, columns, origin: { ...origin, ignored } }, staging, rows, person, first);
      return rows;
    } finally {
      await this.connection.pool.query(`DROP TABLE IF EXISTS ${qualified(IMPORTED, staging)}`);
    }
  }

  /** Puts the new records in the place of the old, in one transaction. */
  private async swap(source: SourceRow, staging: string, rows: number, person: string | null, first: boolean): Promise<void> {
    const touched = (await this.registry.datasetsOf(source)).map(({ name }) => name);
    const client = await this.connection.pool.connect();
    try {
      await client.query('BEGIN');
      await client.query(`DROP TABLE IF EXISTS ${qualified(source.schema, source.table)}`);
      await client.query(`ALTER TABLE ${qualified(IMPORTED, staging)} RENAME TO ${identifier(source.table)}`);
      const db = drizzle(client);
      await db
        .update(tables.sources)
        .set({ rows, columns: source.columns, origin: source.origin, updatedAt: new Date() })
        .where(eq(tables.sources.id, source.id));
      for (const name of touched) {
        await db
          .update(tables.datasets)
          .set({ version: sql`${tables.datasets.version} + 1`, updatedAt: new Date() })
          .where(eq(tables.datasets.name, name));
      }
      if (first) {
        const columns = source.columns.map(({ column, label: name, type, scale }) => ({ column, name, type, scale }));
        const name = source.id.replaceAll('_', '-');
        const dataset = datasetFor(name, source.label, source.schema, source.table, columns);
        const report = firstReport(name, dataset, columns, await distinctCounts(client, qualified(source.schema, source.table), columns));
        await db.insert(tables.datasets).values({ name, definition: dataset });
        await db.insert(tables.reports).values({ id: name, draft: report, owner: person });
      }
      await client.query('COMMIT');
    } catch (error) {
      await client.query('ROLLBACK').catch(() => undefined);
      throw error;
    } finally {
      client.release();
    }
    for (const name of touched) this.catalogue.forget(name);
  }
}

function queryOf(source: SourceRow): SqlOrigin {
  if (source.origin.kind !== 'sql') throw new ApiError('bad-request', `${source.label} came from a file: drop a later file instead.`);
  return source.origin;
}

/** The columns to bring in after what an analyst said about changes. Throws ApiError `source-drifted` where that is not enough. */
function settleDrift(
  source: SourceRow,
  origin: SqlOrigin,
  { answered, missing, retyped, added, touches }: Drift & { answered: QueryColumn[] },
  { mapping, added: choice }: RefreshChoice,
): { columns: SourceColumn[]; ignored: string[] } {
  const types = new Map(answered.map(({ name, type }) => [name, type]));
  const columns = source.columns.map((column) => {
    const from = mapping[column.from];
    return from !== undefined && types.get(from) === column.type ? { ...column, from } : column;
  });
  const mapped = new Set(columns.map(({ from }) => from));
  const stillMissing = columns.filter(({ from }) => !types.has(from)).map(({ from }) => from);
  const stillRetyped = retyped.filter(({ column }) => columns.some(({ from }) => from === column));
  const fresh = added.filter((name) => !mapped.has(name));
  const faults = [
    ...stillMissing.map((name) => `“${name}” is missing`),
    ...stillRetyped.map(({ column, was, is }) => `“${column}” was ${was} and is ${is} now`),
    ...(choice === undefined ? fresh.map((name) => `“${name}” is new`) : []),
  ];
  if (faults.length > 0) {
    const named = touches.map(({ kind, label }) => `the ${kind} ${label}`);
    throw new ApiError(
      'source-drifted',
      `${faults.join(', ')}.${missing.length + retyped.length > 0 && named.length > 0 ? ` This touches ${named.join(', ')}.` : ''} Say what is meant, then refresh again.`,
    );
  }
  if (choice !== 'take') return { columns, ignored: [...origin.ignored, ...fresh] };
  const taken = new Set(columns.map(({ column }) => column));
  const more = answered
    .filter(({ name }) => fresh.includes(name))
    .map(({ name, type, scale }): SourceColumn => ({ column: nameFor(name, taken), label: labelOf(name), from: name, type, scale }));
  return { columns: [...columns, ...more], ignored: origin.ignored };
}
