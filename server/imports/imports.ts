import { createHash, randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ImportTarget, ImportView, Remembered, StagedView } from '@bold-compass/core/api';
import {
  guessColumns,
  guessNotation,
  planByRecipe,
  readingByRecipe,
  type Analysis,
  type ImportColumn,
  type ImportPlan,
  type ImportRecipe,
  type Reading,
  writtenCell,
} from '@bold-compass/core/imports';
import { and, eq } from 'drizzle-orm';
import type { Catalogue } from '../data/index.ts';
import { inTransaction, tables, type Connection } from '../database/index.ts';
import { ApiError, asApiError } from '../problems/index.ts';
import type { SourceRegistry, SourceRow } from '../sources/index.ts';
import type { TableStore } from '../tables/index.ts';
import type { Duplicates } from './analyse.ts';
import { boundColumns, findUnmatched } from './bindings.ts';
import type { ImportThreads } from './import-threads.ts';
import { boundByRecipe, withResolved } from './later-file.ts';
import { commitImport, type CommittedImport } from './commit.ts';
import type { StagedColumn } from './stage.ts';
import { changeCounts, columnsFor } from './targets.ts';
import { makeUploadFolder, sweepUploadFolders } from './upload-folder.ts';

const KEPT_MILLISECONDS = 4 * 60 * 60 * 1000;

interface Staging {
  plan: ImportPlan;
  target: ImportTarget;
  table: string;
  columns: StagedColumn[];
  view: StagedView;
}

/** A file that was uploaded and waits to be imported. */
interface PendingImport {
  id: string;
  owner: string;
  path: string;
  fileName: string;
  bytes: number;
  /** SHA-256 of the file. */
  content: string;
  since: number;
  work: { what: string; share: number; abort: AbortController } | null;
  problem: string;
  reading: Reading | null;
  sheets: string[];
  analysis: Analysis | null;
  columns: ImportColumn[];
  duplicates: (Duplicates & { key: number[] }) | null;
  /** The source whose first file says how this one is read. */
  follows: SourceRow | null;
  /** What following it proposes beside the columns. */
  proposed: Pick<ImportPlan, 'key' | 'choices'> | null;
  staging: Staging | null;
}

/** Pending uploads: kept beside the application until they are imported, and then gone. */
export class Imports {
  private readonly pending = new Map<string, PendingImport>();
  private folder: Promise<string> | undefined;

  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
    private readonly sources: SourceRegistry,
    private readonly store: TableStore,
    private readonly threads: ImportThreads,
  ) {}

  /** Removes the files that servers which were killed had received. */
  sweep(): Promise<void> {
    return sweepUploadFolders();
  }

  /** Takes a file and begins to look at it. Throws ApiError `file-invalid` where it is none that can be read. */
  async receive(owner: string, fileName: string, content: Readable): Promise<ImportView> {
    await this.forgetOld();
    this.folder ??= makeUploadFolder();
    const id = randomUUID();
    const path = join(await this.folder, id);
    try {
      const hash = createHash('sha256');
      let bytes = 0;
      const measured = async function* (chunks: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
        for await (const chunk of chunks) {
          hash.update(chunk);
          bytes += chunk.length;
          yield chunk;
        }
      };
      await pipeline(content, measured, createWriteStream(path, { mode: 0o600 }));
      const { reading, sheets } = await this.threads.run('detect', { path, fileName });
      const pending: PendingImport = {
        ...{ id, owner, path, fileName, bytes, content: hash.digest('hex'), since: Date.now(), sheets },
        ...{ work: null, problem: '', reading: null, analysis: null, columns: [], duplicates: null },
        ...{ follows: null, proposed: null, staging: null },
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

  /** Reads the file as the first one of a source was read: it is to become a later file of it. With null, as it looks again. */
  async follow(owner: string, id: string, sourceId: string | null): Promise<ImportView> {
    const pending = this.find(owner, id);
    const { reading } = ready(pending);
    const source = sourceId === null ? null : await this.sources.find(sourceId);
    await this.unstage(pending);
    pending.follows = source;
    this.analyse(pending, source ? readingByRecipe(recipeFor(source, reading), reading, pending.sheets) : reading, source === null);
    return this.viewOf(pending);
  }

  /** Looks for rows with the key of an earlier row. */
  findDuplicates(owner: string, id: string, key: number[]): ImportView {
    const pending = this.find(owner, id);
    const { path, reading } = ready(pending);
    this.work(pending, 'Looking for duplicate keys', async (onProgress, signal) => {
      const found = await this.threads.run('duplicates', { path, reading, key }, onProgress, signal);
      pending.duplicates = { ...found, key };
    });
    return this.viewOf(pending);
  }

  /** Brings the rows into a table that nobody sees yet, and counts what they would change. */
  async stage(owner: string, id: string, asked: ImportPlan, target: ImportTarget): Promise<ImportView> {
    const pending = this.find(owner, id);
    const { analysis, path } = ready(pending);
    const plan = await this.planFor(pending, asked, target);
    if (plan.columns.length !== analysis.header.length)
      throw new ApiError('bad-request', `The file has ${analysis.header.length} columns, not ${plan.columns.length}.`);
    if (!plan.columns.some(({ include }) => include)) throw new ApiError('bad-request', 'No column is included. Include at least one.');
    if (analysis.rows === 0) throw new ApiError('file-invalid', 'This file has a header but no rows. Choose a file with at least one row.');
    await this.unstage(pending);
    const columns = await columnsFor(this.sources, plan, target, analysis);
    this.work(pending, 'Importing the rows', async (onProgress, signal) => {
      const table = await this.store.begin();
      try {
        const { url } = this.connection;
        const staged = await this.threads.run('stage', { url, path, plan, table, columns }, onProgress, signal);
        const view: StagedView = { ...staged, changes: null, unmatched: [] };
        await this.lookAt(pending, view, target, table, columns);
        signal.throwIfAborted();
        pending.staging = { plan, target, table, columns, view };
      } catch (error) {
        await this.store.discard(table).catch(() => undefined);
        throw error;
      }
    });
    return this.viewOf(pending);
  }

  /** The plan of a file. A later file that was not read by its source's recipe yet takes what texts mean from there. */
  private async planFor(pending: PendingImport, plan: ImportPlan, target: ImportTarget): Promise<ImportPlan> {
    if (target.kind === 'dataset' || target.kind === 'fact' || pending.follows?.id === target.source) return plan;
    const { recipe } = await this.sources.find(target.source);
    if (!recipe) return plan;
    const { decimalSign, dateOrder, emptyWords } = recipe.reading;
    const columns = plan.columns.map((column) => {
      const known = recipe.columns.find(({ name }) => name.trim().toLowerCase() === column.name.trim().toLowerCase());
      return known ? { ...column, empties: known.empties } : column;
    });
    return { ...plan, reading: { ...plan.reading, decimalSign, dateOrder, emptyWords }, columns };
  }

  /** Counts what staged rows would change, and finds texts that name no member. */
  private async lookAt(
    { content }: PendingImport,
    view: StagedView,
    target: ImportTarget,
    table: string,
    columns: StagedColumn[],
  ): Promise<void> {
    await inTransaction(this.connection.pool, async (client) => {
      if (target.kind === 'dataset') return;
      if (target.kind === 'fact') {
        const { dataset } = await this.catalogue.definition(target.dataset);
        for (const bound of boundColumns(dataset, target.bindings, columns))
          view.unmatched.push(await findUnmatched(client, dataset, bound, table));
        return;
      }
      const source = await this.sources.find(target.source);
      const bound = await boundByRecipe(client, source, columns);
      for (const one of bound?.bounds ?? []) view.unmatched.push(await findUnmatched(client, bound!.dataset, one, table));
      view.changes = await withResolved(client, source, columns, table, async (incoming) => ({
        ...(await changeCounts(client, this.store, source, target.kind, incoming)),
        sameFile: await this.sources.hadContent(client, source.id, content),
      }));
    });
  }

  /**
   * Makes what was staged real, in one transaction. `agreed` appends records that seem to be here already. Throws ApiError
   * `rows-refused`, `already-here`.
   */
  async commit(owner: string, id: string, agreed: boolean): Promise<CommittedImport> {
    const pending = this.find(owner, id);
    const { staging, fileName, content, analysis } = pending;
    if (!staging || !analysis || pending.work) throw new ApiError('bad-request', 'This file is not ready. Wait until its rows are in.');
    const { rows } = staging.view;
    pending.work = { what: 'Importing', share: 1, abort: new AbortController() };
    try {
      const { touched, ...done } = await inTransaction(this.connection.pool, (client) =>
        commitImport(client, this.store, this.sources, { ...staging, header: analysis.header, fileName, content, owner, rows, agreed }),
      );
      for (const name of touched) this.catalogue.forget(name);
      pending.staging = null;
      await this.forget(owner, id);
      return { ...done, rows };
    } finally {
      pending.work = null;
    }
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

  /** Discards an upload. */
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
    if (!pending || pending.owner !== owner) throw new ApiError('not-found', 'This file is not here any more. Upload it again.');
    return pending;
  }

  private analyse(pending: PendingImport, reading: Reading, guess: boolean): void {
    const before = pending.reading;
    pending.reading = reading;
    this.work(
      pending,
      'Reading the whole file',
      async (onProgress, signal) => {
        const analysis = await this.threads.run('analyse', { path: pending.path, reading }, onProgress, signal);
        if (guess) pending.reading = { ...reading, ...guessNotation(analysis) };
        pending.analysis = analysis;
        this.propose(pending, analysis, pending.reading!);
        pending.duplicates = null;
      },
      () => (pending.reading = pending.analysis ? before : reading),
    );
  }

  /** Proposes how the columns are read: as the source's first file, or as they look. */
  private propose(pending: PendingImport, analysis: Analysis, reading: Reading): void {
    const { follows } = pending;
    const plan = follows && planByRecipe(recipeFor(follows, reading), analysis, reading, follows.key);
    pending.columns = plan ? plan.columns : guessColumns(analysis, reading);
    pending.proposed = plan && { key: plan.key, choices: plan.choices };
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
        pending.problem = work.abort.signal.aborted ? 'Stopped. Nothing was imported.' : asApiError(error).message;
      })
      .finally(() => {
        if (pending.work === work) pending.work = null;
      });
  }

  private async unstage(pending: PendingImport): Promise<void> {
    const { staging } = pending;
    pending.staging = null;
    if (staging) await this.store.discard(staging.table);
  }

  private async forgetOld(): Promise<void> {
    for (const { id, owner, since } of [...this.pending.values()]) if (Date.now() - since > KEPT_MILLISECONDS) await this.forget(owner, id);
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
    follows,
    proposed,
    staging,
  }: PendingImport): ImportView {
    const sign = reading?.decimalSign ?? '.';
    return {
      ...{ id, fileName, bytes, problem, reading, sheets, columns, duplicates },
      follows: follows && proposed && { source: follows.id, label: follows.label, ...proposed },
      // The rows are not sent again and again while something is going on.
      analysis:
        work || !analysis ? null : { ...analysis, sample: analysis.sample.map((cells) => cells.map((cell) => writtenCell(cell, sign))) },
      work: work && { what: work.what, share: work.share },
      staged: work ? null : (staging?.view ?? null),
    };
  }
}

/** How a source's first file was read; for one that nobody kept that of, what its columns are now. */
function recipeFor({ recipe, columns }: SourceRow, reading: Reading): ImportRecipe {
  if (recipe) return recipe;
  return {
    reading,
    columns: columns.map(({ from, label, column, type, scale }) => ({
      ...{ header: from, name: label, column, type, scale, include: true, empties: [] },
    })),
    bindings: [],
  };
}

function ready({ work, analysis, reading, path }: PendingImport): { analysis: Analysis; reading: Reading; path: string } {
  if (work || !analysis || !reading) throw new ApiError('bad-request', 'The file is still being read. Wait a moment, then try again.');
  return { analysis, reading, path };
}
