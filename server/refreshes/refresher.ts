import { randomUUID } from 'node:crypto';
import type { Drift, RefreshChoice } from '@bold-compass/core/api';
import { labelOf } from '@bold-compass/core/format';
import type { SourceColumn, SqlOrigin } from '@bold-compass/core/model';
import { datasetFor, firstReport, nameFor } from '@bold-compass/core/modelling';
import { and, eq, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import type { Connections, SourceQuery } from '../connections/index.ts';
import type { DescribedColumn } from '../drivers/index.ts';
import type { Catalogue } from '../data/index.ts';
import { inTransaction, sqlState, tables, type Connection, type PoolClient } from '../database/index.ts';
import { profiled, widenColumns, type ImportThreads } from '../imports/index.ts';
import type { Instance } from '../instance/index.ts';
import { ApiError, asApiError, staleRevision } from '../problems/index.ts';
import type { SourceRegistry, SourceRow } from '../sources/index.ts';
import { registered, staged as stagedName } from '../sql/index.ts';
import { doubledKeys, type WidenedColumn, type TableStore } from '../tables/index.ts';
import { columnDrift, touchedBy } from './drift.ts';
import { Schedules } from './schedules.ts';
import { resolveDrift } from './resolve-drift.ts';

interface Running {
  load: number;
  share: number;
  abort: AbortController;
  done: Promise<void>;
}

/** What came of a refresh: its records, and what happened to their values. */
interface Outcome {
  rows: number;
  notes: string[];
}

const KEEPS = 'The last good records stay in use.';

/** Imports the answers of queries: once at first, then by hand or on a schedule. Readers keep the last good records meanwhile. */
export class Refresher {
  private readonly running = new Map<string, Running>();
  private readonly schedules: Schedules;

  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly registry: SourceRegistry,
    private readonly connections: Connections,
    private readonly sourceQuery: SourceQuery,
    private readonly store: TableStore,
    private readonly threads: ImportThreads,
    private readonly instance: Instance,
  ) {
    this.schedules = new Schedules(connection.db, (id) => this.refresh(id, { mapping: {} }, null));
  }

  /** Sets the schedules going. Once, at the start. */
  begin(): Promise<void> {
    return this.schedules.begin();
  }

  close(): void {
    this.schedules.close();
    for (const { abort } of this.running.values()) abort.abort();
  }

  /** How far a refresh is, as a share of 1; null when none runs. */
  progress(id: string): number | null {
    return this.running.get(id)?.share ?? null;
  }

  /** Makes a source from a query and begins to import its records; it becomes a dataset when they are there. */
  async create(label: string, origin: SqlOrigin, live: boolean, person: string): Promise<string> {
    const { columns } = await this.sourceQuery.check(origin);
    const taken = new Set<string>();
    const id = `${nameFor(label, new Set())}_${randomUUID().slice(0, 8)}`;
    const own = columns.map(({ name, type, scale, approximate }): SourceColumn => ({
      ...{ column: nameFor(name, taken), label: labelOf(name), from: name, type },
      // Of records that stay at the source nobody knows more than their type says.
      scale: scale ?? (live ? LIVE_SCALE : 0),
      ...(approximate ? { approximate } : {}),
    }));
    await this.connection.db.insert(tables.sources).values({ id, label, columns: own, origin, live, owner: person });
    if (live) await this.leaveThere(await this.registry.find(id), person);
    else await this.start(await this.registry.find(id), { mapping: {} }, person);
    return id;
  }

  /** Makes a dataset over records that stay at the source. */
  private async leaveThere(source: SourceRow, person: string): Promise<void> {
    const columns = source.columns.map(({ column, label: name, type, scale }) => ({
      ...{ column, name, type, scale },
      // How many members texts have is not asked there: the first text becomes the first axis.
      profile: { distinct: 2, low: null, high: null },
    }));
    const name = source.id.replaceAll('_', '-');
    const dataset = datasetFor(name, source.label, source.id, columns);
    dataset.facts[0].live = true;
    const report = firstReport(name, dataset, columns);
    await this.connection.db.transaction(async (db) => {
      await db.insert(tables.datasets).values({ name, definition: dataset, owner: person, accessDecided: false });
      await db.insert(tables.reports).values({ id: name, draft: report, owner: person });
      await db
        .insert(tables.loads)
        .values({ source: source.id, kind: 'import', state: 'done', finishedAt: new Date(), person, message: 'Queried at the source.' });
    });
  }

  /** Begins to import the records of a source anew. Throws ApiError where that is going on already. */
  async refresh(id: string, choice: RefreshChoice, person: string | null): Promise<void> {
    await this.start(await this.registry.find(id), choice, person);
  }

  /**
   * Gives a source another query or other values, from the revision that was seen. Records that were imported are fetched
   * anew, which stops where columns have changed; live records must answer what is read of them. Throws ApiError
   * `source-drifted`, `stale-revision`.
   */
  async rewrite(
    id: string,
    { text, parameters, revision }: Pick<SqlOrigin, 'text' | 'parameters'> & { revision: number },
    person: string,
  ): Promise<void> {
    const source = await this.registry.find(id);
    const origin = { ...queryOf(source), text, parameters };
    const next = { ...source, origin };
    const drift = await this.compare(next);
    if (source.live) resolveDrift(source, origin, drift, { mapping: {}, added: 'leave' });
    await this.saveSource(source, revision, { origin });
    if (!source.live) return this.start(next, { mapping: {} }, person);
    const names = (await this.registry.datasetsOf(id)).map(({ name }) => name);
    await inTransaction(this.connection.pool, (client) => this.store.touch(client, names));
    for (const name of names) this.catalogue.forget(name);
  }

  /** Saves a change of a source that started from a revision. Throws ApiError `stale-revision`. */
  private async saveSource(source: SourceRow, revision: number, values: Partial<Pick<SourceRow, 'origin' | 'schedule'>>): Promise<void> {
    const saved = await this.connection.db
      .update(tables.sources)
      .set({ ...values, updatedAt: new Date(), revision: sql`${tables.sources.revision} + 1` })
      .where(and(eq(tables.sources.id, source.id), eq(tables.sources.revision, revision)))
      .returning({ id: tables.sources.id });
    if (saved.length === 0) throw staleRevision(source.label, source.revision);
  }

  /** Deletes records that no dataset reads any more. Throws ApiError `in-use` that names those that do. */
  async remove(id: string): Promise<void> {
    const source = await this.registry.find(id);
    await this.cancel(id);
    await inTransaction(this.connection.pool, async (client) => {
      // Held, so that nobody makes a dataset of it meanwhile.
      await client.query('LOCK TABLE app.datasets IN SHARE MODE');
      const used = await this.registry.datasetsOf(id, client);
      if (used.length > 0) {
        throw new ApiError('in-use', `${source.label} is read by ${used.map(({ label }) => label).join(', ')}. Delete that first.`);
      }
      await drizzle(client).delete(tables.sources).where(eq(tables.sources.id, id));
      if (!source.live) await this.store.drop(client, id);
    });
    this.schedules.set(id, null);
  }

  async cancel(id: string): Promise<void> {
    const running = this.running.get(id);
    running?.abort.abort();
    await running?.done;
  }

  /** When a source is refreshed by itself: a cron expression in UTC, or null. Throws ApiError for one that is none. */
  async setSchedule(id: string, schedule: string | null, revision: number): Promise<void> {
    const source = await this.registry.find(id);
    Schedules.check(schedule);
    await this.saveSource(source, revision, { schedule });
    this.schedules.set(id, schedule);
  }

  /** What has changed at the source since its records came in, and what that would touch here. */
  async drift(source: SourceRow): Promise<Drift> {
    const { missing, retyped, added, touches } = await this.compare(source);
    return { missing, retyped, added, touches };
  }

  private async compare(source: SourceRow): Promise<Drift & { answered: DescribedColumn[] }> {
    const origin = queryOf(source);
    const { columns: answered } = await this.sourceQuery.check(origin);
    const drift = columnDrift(source.columns, answered, origin.ignored);
    const harmed = new Set([...drift.missing, ...drift.retyped.map(({ column }) => column)]);
    const columns = source.columns.filter(({ from }) => harmed.has(from)).map(({ column }) => column);
    const [datasets, reports] = await Promise.all([this.registry.datasetsOf(source.id), this.registry.reportDocuments()]);
    return { ...drift, answered, touches: touchedBy(columns, (part) => part.table === source.id, datasets, reports) };
  }

  private async start(source: SourceRow, choice: RefreshChoice, person: string | null): Promise<void> {
    queryOf(source);
    if (source.live) throw new ApiError('bad-request', `${source.label} is live: every question is asked at the source.`);
    const busy = new ApiError('bad-request', `${source.label} is being refreshed already. Wait, or cancel that.`);
    if (this.running.has(source.id)) throw busy;
    const running: Running = { load: 0, share: 0, abort: new AbortController(), done: Promise.resolve() };
    this.running.set(source.id, running);
    // Also after a first attempt that failed: the source becomes a dataset with the first records that arrive.
    const isFirst = !(await this.registry.hasRecords(source.id).catch(() => true));
    try {
      const [{ id: load }] = await this.connection.db
        .insert(tables.loads)
        .values({ source: source.id, kind: isFirst ? 'import' : 'refresh', state: 'running', person, instance: this.instance.number })
        .returning({ id: tables.loads.id });
      running.load = load;
    } catch (error) {
      this.running.delete(source.id);
      // Another server that shares the database is at it.
      throw sqlState(error) === '23505' ? busy : error;
    }
    running.done = this.run(source, choice, running, person, isFirst)
      .then(({ rows, notes }) => this.finish(running.load, 'done', notes.join(' '), rows))
      .catch((error: unknown) => {
        if (running.abort.signal.aborted) return this.finish(running.load, 'cancelled', isFirst ? '' : KEEPS);
        const { code, message } = asApiError(error);
        return this.finish(running.load, code === 'source-drifted' ? 'stopped' : 'failed', isFirst ? message : `${message} ${KEEPS}`);
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

  private async run(source: SourceRow, choice: RefreshChoice, running: Running, person: string | null, isFirst: boolean): Promise<Outcome> {
    const origin = queryOf(source);
    const drift = await this.compare(source);
    const { columns, ignored } = resolveDrift(source, origin, drift, choice);
    const answered = new Map(drift.answered.map((column) => [column.name, column]));
    const staging = await this.store.begin();
    try {
      const {
        rows,
        columns: widened,
        notes,
      } = await this.threads.run(
        'fetch',
        {
          ...{ url: this.connection.url, table: staging, origin, expected: source.rows, isFirst },
          columns: columns.map(({ column, label, from, type, scale }) => {
            const { scale: known, approximate } = answered.get(from) ?? { scale: null, approximate: false };
            return { column, label, from, type, approximate, scale: isFirst ? known : scale };
          }),
          remote: await this.connections.credentials(origin.connection),
        },
        (share) => (running.share = share),
        running.abort.signal,
      );
      running.abort.signal.throwIfAborted();
      await this.swap({ ...source, columns, origin: { ...origin, ignored } }, staging, { rows, widened, person, isFirst });
      return { rows, notes };
    } finally {
      await this.store.discard(staging).catch(() => undefined);
    }
  }

  /** Puts the new records in the place of the old, in one transaction. Throws ApiError `rows-refused` where a key is broken. */
  private async swap(
    source: SourceRow,
    staging: string,
    { rows, widened, person, isFirst }: { rows: number; widened: WidenedColumn[]; person: string | null; isFirst: boolean },
  ): Promise<void> {
    const touched = await inTransaction(this.connection.pool, async (client) => {
      const db = drizzle(client);
      const [held] = await db.select().from(tables.sources).where(eq(tables.sources.id, source.id)).for('update');
      if (!held) throw new ApiError('not-found', `${source.label} was deleted in the meantime.`);
      for (const key of await this.store.keysOf(client, source.id)) await refuseDoubled(client, source, staging, key);
      const scales = new Map(widened.map(({ column, scale }) => [column, scale]));
      if (!isFirst) await widenColumns(client, source, scales);
      await this.store.publish(client, staging, source.id);
      await this.store.keepKeys(client, source.id);
      const columns = source.columns.map((column): SourceColumn => {
        const own = widened.find((one) => one.column === column.column);
        if (!own) return column;
        const { type, scale } = own;
        return { ...column, type, scale, ...(type === 'text' && column.type !== 'text' ? { keptAsText: true } : {}) };
      });
      await db
        .update(tables.sources)
        .set({ rows, columns, origin: source.origin, updatedAt: new Date(), revision: sql`${tables.sources.revision} + 1` })
        .where(eq(tables.sources.id, source.id));
      const names = (await this.registry.datasetsOf(source.id, client)).map(({ name }) => name);
      await this.store.touch(client, names);
      if (isFirst && names.length === 0) await this.makeDataset(client, { ...source, columns }, person);
      return names;
    });
    for (const name of touched) this.catalogue.forget(name);
  }

  /** The dataset and first report that a source's first records become. */
  private async makeDataset(client: PoolClient, source: SourceRow, person: string | null): Promise<void> {
    const db = drizzle(client);
    const plain = source.columns.map(({ column, label: name, type, scale }) => ({ column, name, type, scale }));
    const columns = await profiled(client, registered(source.id), plain);
    const name = source.id.replaceAll('_', '-');
    const dataset = datasetFor(name, source.label, source.id, columns);
    const report = firstReport(name, dataset, columns);
    const owner = source.owner ?? person;
    await db.insert(tables.datasets).values({ name, definition: dataset, owner, accessDecided: false });
    await db.insert(tables.reports).values({ id: name, draft: report, owner });
  }
}

/** Decimal places of live numbers whose type does not say. */
const LIVE_SCALE = 6;

async function refuseDoubled(client: PoolClient, source: SourceRow, staging: string, key: string[]): Promise<void> {
  const { keys, examples } = await doubledKeys(client, stagedName(staging), key);
  if (keys === 0) return;
  const labels = key.map((column) => source.columns.find((one) => one.column === column)?.label ?? column).join(', ');
  throw new ApiError(
    'rows-refused',
    `${keys.toLocaleString('en-GB')} ${keys === 1 ? 'key stands' : 'keys stand'} in several records (${labels}: ${examples.slice(0, 3).join('; ')}), so records would be counted more than once.`,
  );
}

function queryOf(source: SourceRow): SqlOrigin {
  if (source.origin.kind !== 'sql') throw new ApiError('bad-request', `${source.label} came from a file: import a later file instead.`);
  return source.origin;
}
