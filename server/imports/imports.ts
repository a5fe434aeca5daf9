import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ImportTarget, ImportView, Remembered, StagedView } from '@bold-compass/core/api';
import { guessColumns, guessNotation, type Analysis, type ImportColumn, type ImportPlan, type Reading } from '@bold-compass/core/imports';
import { and, eq } from 'drizzle-orm';
import type pg from 'pg';
import type { Catalogue } from '../data/index.ts';
import { tables, type Connection } from '../database/index.ts';
import { asApiError } from '../http/errors.ts';
import { ApiError } from '../http/problems.ts';
import type { SourceRegistry } from '../sources/index.ts';
import { qualified } from '../sql/index.ts';
import type { Duplicates } from './analyse.ts';
import { boundColumns, findUnmatched } from './bindings.ts';
import type { ImportCrew } from './crew.ts';
import { settle, type Settled } from './settle.ts';
import type { StagedColumn } from './stage.ts';
import { changeCounts, columnsFor } from './targets.ts';

/** Schema that imported tables are in. */
export const IMPORTED = 'imported';
const KEPT_MILLISECONDS = 4 * 60 * 60 * 1000;

interface Staging {
  plan: ImportPlan;
  target: ImportTarget;
  table: string;
  columns: StagedColumn[];
  view: StagedView;
}

/** A file that was dropped and waits to be brought in. */
interface PendingImport {
  id: string;
  owner: string;
  path: string;
  fileName: string;
  bytes: number;
  since: number;
  work: { what: string; share: number; abort: AbortController } | null;
  problem: string;
  reading: Reading | null;
  sheets: string[];
  analysis: Analysis | null;
  columns: ImportColumn[];
  duplicates: (Duplicates & { key: number[] }) | null;
  staging: Staging | null;
}

/** Files on their way in: kept beside the application until they are brought in, and then gone. */
export class Imports {
  private readonly pending = new Map<string, PendingImport>();
  private folder: Promise<string> | undefined;

  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly sources: SourceRegistry,
    private readonly crew: ImportCrew,
  ) {}

  /** Removes what a server that was killed had staged. */
  async sweep(): Promise<void> {
    const { rows } = await this.connection.pool.query<{ name: string }>(
      `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = $1 AND table_name LIKE 'staging\\_%'`,
      [IMPORTED],
    );
    for (const { name } of rows) await this.connection.pool.query(`DROP TABLE ${qualified(IMPORTED, name)}`);
  }

  /** Takes a file and begins to look at it. Throws ApiError `file-invalid` where it is none that can be read. */
  async receive(owner: string, fileName: string, content: Readable): Promise<ImportView> {
    await this.forgetOld();
    this.folder ??= mkdtemp(join(tmpdir(), 'bold-compass-import-'));
    const id = randomUUID();
    const path = join(await this.folder, id);
    try {
      await pipeline(content, createWriteStream(path, { mode: 0o600 }));
      const { reading, sheets } = await this.crew.run('detect', { path, fileName });
      const { size } = await stat(path);
      const pending: PendingImport = {
        ...{ id, owner, path, fileName, bytes: size, since: Date.now(), sheets },
        ...{ work: null, problem: '', reading: null, analysis: null, columns: [], duplicates: null, staging: null },
      };
      this.pending.set(id, pending);
      this.analyse(pending, reading, true);
      return this.viewOf(pending);
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  view(owner: string, id: string): ImportView {
    return this.viewOf(this.find(owner, id));
  }

  /** Reads the file another way. */
  async read(owner: string, id: string, reading: Reading): Promise<ImportView> {
    const pending = this.find(owner, id);
    await this.unstage(pending);
    this.analyse(pending, reading, false);
    return this.viewOf(pending);
  }

  /** Looks for rows with the key of an earlier row. */
  findDuplicates(owner: string, id: string, key: number[]): ImportView {
    const pending = this.find(owner, id);
    const { path, reading } = ready(pending);
    this.work(pending, 'Looking for duplicate keys', async (onProgress, signal) => {
      const found = await this.crew.run('duplicates', { path, reading, key }, onProgress, signal);
      pending.duplicates = { ...found, key };
    });
    return this.viewOf(pending);
  }

  /** Brings the rows into a table that nobody sees yet, and counts what they would change. */
  async stage(owner: string, id: string, plan: ImportPlan, target: ImportTarget): Promise<ImportView> {
    const pending = this.find(owner, id);
    const { analysis, path } = ready(pending);
    if (plan.columns.length !== analysis.header.length)
      throw new ApiError('bad-request', `The file has ${analysis.header.length} columns, not ${plan.columns.length}.`);
    if (!plan.columns.some(({ include }) => include)) throw new ApiError('bad-request', 'Every column is left out. Keep at least one.');
    if (analysis.rows === 0) throw new ApiError('file-invalid', 'This file has a header but no rows. Choose a file with at least one row.');
    await this.unstage(pending);
    const columns = await columnsFor(this.sources, plan, target);
    const table = `staging_${pending.id.replaceAll('-', '')}`;
    this.work(pending, 'Bringing the rows in', async (onProgress, signal) => {
      const { url } = this.connection;
      const staged = await this.crew.run('stage', { url, path, plan, schema: IMPORTED, table, columns }, onProgress, signal);
      const view: StagedView = { ...staged, changes: null, unmatched: [] };
      pending.staging = { plan, target, table, columns, view };
      await this.withClient(async (client) => {
        if (target.kind === 'fact') {
          const { dataset } = await this.catalogue.definition(target.dataset);
          for (const bound of boundColumns(dataset, target.bindings, columns))
            view.unmatched.push(await findUnmatched(client, dataset, bound, IMPORTED, table));
        } else if (target.kind !== 'dataset') {
          view.changes = await changeCounts(client, await this.sources.find(target.source), target.kind, IMPORTED, table);
        }
      });
    });
    return this.viewOf(pending);
  }

  /** Makes what was staged real, in one transaction. */
  async commit(owner: string, id: string): Promise<Settled> {
    const pending = this.find(owner, id);
    const { staging, fileName } = pending;
    if (!staging || pending.work) throw new ApiError('bad-request', 'This file is not ready. Wait until its rows are in.');
    const done = await this.withClient((client) =>
      settle(client, this.sources, this.catalogue, { ...staging, fileName, owner, schema: IMPORTED, rows: staging.view.rows }),
    );
    pending.staging = null;
    await this.forget(owner, id);
    return done;
  }

  /** Remembers what texts mean, for this file and later ones. */
  async correct(dataset: string, level: string, corrections: { text: string; member: string }[]): Promise<void> {
    if (corrections.length === 0) return;
    for (const { text, member } of corrections) {
      await this.connection.db
        .insert(tables.corrections)
        .values({ dataset, level, text, member })
        .onConflictDoUpdate({ target: [tables.corrections.dataset, tables.corrections.level, tables.corrections.text], set: { member } });
    }
  }

  /** What texts of files were said to mean in a dataset, by level. */
  remembered(dataset: string): Promise<Remembered[]> {
    const { corrections } = tables;
    return this.connection.db
      .select({ level: corrections.level, text: corrections.text, member: corrections.member })
      .from(corrections)
      .where(eq(corrections.dataset, dataset))
      .orderBy(corrections.level, corrections.text);
  }

  /** Forgets what a text means; files that were brought in stay as they are. */
  async forgetCorrection(dataset: string, level: string, text: string): Promise<void> {
    const { corrections } = tables;
    await this.connection.db
      .delete(corrections)
      .where(and(eq(corrections.dataset, dataset), eq(corrections.level, level), eq(corrections.text, text)));
  }

  /** Ends what is going on with a file; the file stays. */
  cancel(owner: string, id: string): ImportView {
    const pending = this.find(owner, id);
    pending.work?.abort.abort();
    return this.viewOf(pending);
  }

  /** Puts a file away. */
  async forget(owner: string, id: string): Promise<void> {
    const pending = this.find(owner, id);
    pending.work?.abort.abort();
    this.pending.delete(id);
    await this.unstage(pending);
    await rm(pending.path, { force: true });
  }

  async close(): Promise<void> {
    for (const pending of this.pending.values()) pending.work?.abort.abort();
    if (this.folder) await rm(await this.folder, { recursive: true, force: true });
  }

  private find(owner: string, id: string): PendingImport {
    const pending = this.pending.get(id);
    if (!pending || pending.owner !== owner) throw new ApiError('not-found', 'This file is not here any more. Drop it again.');
    return pending;
  }

  private analyse(pending: PendingImport, reading: Reading, guess: boolean): void {
    const before = pending.reading;
    pending.reading = reading;
    this.work(
      pending,
      'Reading the whole file',
      async (onProgress, signal) => {
        const analysis = await this.crew.run('analyse', { path: pending.path, reading }, onProgress, signal);
        if (guess) pending.reading = { ...reading, ...guessNotation(analysis) };
        pending.analysis = analysis;
        pending.columns = guessColumns(analysis, pending.reading!);
        pending.duplicates = null;
      },
      () => (pending.reading = pending.analysis ? before : reading),
    );
  }

  /** Runs one piece of work on a file at a time; what was going on before is ended. */
  private work(
    pending: PendingImport,
    what: string,
    run: (onProgress: (share: number) => void, signal: AbortSignal) => Promise<void>,
    onFailure: () => void = () => undefined,
  ): void {
    pending.work?.abort.abort();
    const work = { what, share: 0, abort: new AbortController() };
    pending.work = work;
    pending.problem = '';
    run((share) => (work.share = share), work.abort.signal)
      .catch((error: unknown) => {
        if (pending.work !== work) return;
        onFailure();
        pending.problem = work.abort.signal.aborted ? 'Stopped. Nothing was brought in.' : asApiError(error).message;
      })
      .finally(() => {
        if (pending.work === work) pending.work = null;
      });
  }

  private async unstage(pending: PendingImport): Promise<void> {
    pending.staging = null;
    await this.connection.pool.query(`DROP TABLE IF EXISTS ${qualified(IMPORTED, `staging_${pending.id.replaceAll('-', '')}`)}`);
  }

  private async forgetOld(): Promise<void> {
    for (const { id, owner, since } of [...this.pending.values()]) if (Date.now() - since > KEPT_MILLISECONDS) await this.forget(owner, id);
  }

  private async withClient<Result>(use: (client: pg.PoolClient) => Promise<Result>): Promise<Result> {
    const client = await this.connection.pool.connect();
    try {
      return await use(client);
    } finally {
      client.release();
    }
  }

  private viewOf({
    id,
    fileName,
    bytes,
    work,
    problem,
    reading,
    sheets,
    analysis,
    columns,
    duplicates,
    staging,
  }: PendingImport): ImportView {
    return {
      ...{ id, fileName, bytes, problem, reading, sheets, columns, duplicates },
      // The rows are not sent again and again while something is going on.
      analysis: work ? null : analysis,
      work: work && { what: work.what, share: work.share },
      staged: work ? null : (staging?.view ?? null),
    };
  }
}

function ready({ work, analysis, reading, path }: PendingImport): { analysis: Analysis; reading: Reading; path: string } {
  if (work || !analysis || !reading) throw new ApiError('bad-request', 'The file is still being read. Wait a moment, then try again.');
  return { analysis, reading, path };
}
