import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ImportColumn, ImportPreview, ImportProblem } from '@bold-compass/core/api';
import { drizzle } from 'drizzle-orm/node-postgres';
import { from as copyFrom } from 'pg-copy-streams';
import type { Catalogue } from '../data/index.ts';
import { tables, type Connection } from '../database/index.ts';
import { ApiError } from '../http/problems.ts';
import { identifier, qualified } from '../sql/index.ts';
import { readCsv, sniffDelimiter } from './csv.ts';
import { datasetFor, firstReport, nameFor, type NamedColumn } from './dataset.ts';
import { cellValue, TYPE_WORDS, TypeGuess } from './types.ts';

/** Schema that imported tables are in. */
const SCHEMA = 'imported';
const SAMPLE_ROWS = 50;
const LISTED_PROBLEMS = 100;
const KEPT_MILLISECONDS = 2 * 60 * 60 * 1000;
const SQL_TYPES = { text: 'text', integer: 'bigint', decimal: 'numeric', date: 'date', boolean: 'boolean' } as const;

/** A file that was dropped and waits to be brought in. */
interface PendingImport {
  id: string;
  owner: string;
  path: string;
  fileName: string;
  delimiter: string;
  header: string[];
  since: number;
}

interface FileCheck {
  rows: number;
  sample: string[][];
  problems: ImportProblem[];
  problemCount: number;
}

/** Files on their way in: kept beside the application until they are brought in, and then gone. */
export class Imports {
  private readonly pending = new Map<string, PendingImport>();
  private folder: Promise<string> | undefined;

  constructor(
    private readonly connection: Connection,
    private readonly catalogue: Catalogue,
  ) {}

  /** Takes a file, finds out how it is written and what its columns hold. Throws ApiError `file-invalid`. */
  async receive(owner: string, fileName: string, content: Readable): Promise<ImportPreview> {
    await this.forgetOld();
    this.folder ??= mkdtemp(join(tmpdir(), 'bold-compass-import-'));
    const id = randomUUID();
    const path = join(await this.folder, id);
    await pipeline(content, createWriteStream(path, { mode: 0o600 }));
    try {
      const delimiter = await sniffDelimiter(path);
      const { header, columns } = await guessColumns(path, delimiter);
      const pending: PendingImport = { id, owner, path, fileName, delimiter, header, since: Date.now() };
      this.pending.set(id, pending);
      return await this.preview(pending, columns);
    } catch (error) {
      await rm(path, { force: true });
      throw error;
    }
  }

  /** Checks the whole file against changed types. */
  async check(owner: string, id: string, columns: ImportColumn[]): Promise<ImportPreview> {
    const pending = this.find(owner, id);
    return this.preview(pending, this.checkedColumns(pending, columns));
  }

  /**
   * Brings the file in: a table, a dataset and a first report, all in one transaction. Throws ApiError `rows-refused`
   * when any row does not fit; nothing is kept then but the file itself.
   */
  async commit(
    owner: string,
    id: string,
    label: string,
    chosen: ImportColumn[],
  ): Promise<{ dataset: string; report: string; rows: number }> {
    const pending = this.find(owner, id);
    const columns = this.checkedColumns(pending, chosen);
    const check = await checkFile(pending, columns);
    if (check.problemCount > 0) {
      throw new ApiError(
        'rows-refused',
        `${check.problemCount} cells do not fit, so nothing was brought in. Change the type of their columns, or leave those columns out.`,
        {
          problems: check.problems,
          problemCount: check.problemCount,
        },
      );
    }
    if (check.rows === 0) throw new ApiError('file-invalid', 'This file has a header but no rows. Choose a file with at least one row.');
    const named = await nameColumns(pending, columns);
    const done = await this.store(pending, label, named, owner);
    this.pending.delete(id);
    await rm(pending.path, { force: true });
    return { ...done, rows: check.rows };
  }

  async close(): Promise<void> {
    if (this.folder) await rm(await this.folder, { recursive: true, force: true });
  }

  private find(owner: string, id: string): PendingImport {
    const pending = this.pending.get(id);
    if (!pending || pending.owner !== owner) throw new ApiError('not-found', 'This file is not here any more. Drop it again.');
    return pending;
  }

  private checkedColumns(pending: PendingImport, columns: ImportColumn[]): ImportColumn[] {
    if (columns.length !== pending.header.length)
      throw new ApiError('bad-request', `The file has ${pending.header.length} columns, not ${columns.length}.`);
    if (!columns.some((column) => column.include)) throw new ApiError('bad-request', 'Every column is left out. Keep at least one.');
    return columns;
  }

  private async preview(pending: PendingImport, columns: ImportColumn[]): Promise<ImportPreview> {
    const check = await checkFile(pending, columns);
    return { id: pending.id, fileName: pending.fileName, delimiter: pending.delimiter, columns, ...check };
  }

  private async forgetOld(): Promise<void> {
    for (const [id, { since, path }] of this.pending) {
      if (Date.now() - since < KEPT_MILLISECONDS) continue;
      this.pending.delete(id);
      await rm(path, { force: true });
    }
  }

  private async store(
    pending: PendingImport,
    label: string,
    columns: NamedColumn[],
    owner: string,
  ): Promise<{ dataset: string; report: string }> {
    const unique = randomUUID().slice(0, 8);
    const slug = nameFor(label, new Set()).replaceAll('_', '-').slice(0, 40);
    const name = `${slug}-${unique}`;
    const table = `${nameFor(label, new Set())}_${unique}`;
    const client = await this.connection.pool.connect();
    try {
      await client.query('BEGIN');
      await client.query(`CREATE SCHEMA IF NOT EXISTS ${identifier(SCHEMA)}`);
      const definitions = columns.map((column) => `${identifier(column.column)} ${SQL_TYPES[column.type]}`);
      await client.query(`CREATE TABLE ${qualified(SCHEMA, table)} (${definitions.join(', ')})`);
      const target = client.query(copyFrom(`COPY ${qualified(SCHEMA, table)} FROM STDIN (FORMAT csv)`));
      await pipeline(Readable.from(csvLines(pending, columns)), target);
      const dataset = datasetFor(name, label, SCHEMA, table, columns);
      const distinct = new Map<string, number>();
      for (const { column } of columns) {
        const { rows } = await client.query<{ n: string }>(
          `SELECT count(DISTINCT ${identifier(column)}) AS n FROM ${qualified(SCHEMA, table)}`,
        );
        distinct.set(column, Number(rows[0].n));
      }
      const report = firstReport(name, dataset, columns, distinct);
      const db = drizzle(client);
      await db.insert(tables.datasets).values({ name, definition: dataset });
      await db.insert(tables.reports).values({ id: name, draft: report, owner });
      await client.query('COMMIT');
      this.catalogue.forget(name);
      return { dataset: name, report: name };
    } catch (error) {
      await client.query('ROLLBACK').catch(() => undefined);
      throw error;
    } finally {
      client.release();
    }
  }
}

/** Reads the header and guesses each column's type from the whole file. */
async function guessColumns(path: string, delimiter: string): Promise<{ header: string[]; columns: ImportColumn[] }> {
  let header: string[] = [];
  let guesses: TypeGuess[] = [];
  for await (const { line, cells } of readCsv(path, delimiter)) {
    if (line === 1) {
      header = cells;
      guesses = cells.map(() => new TypeGuess());
    } else cells.forEach((cell, index) => guesses[index]?.see(cell));
  }
  if (header.length === 0) throw new ApiError('file-invalid', 'This file has no header row. Its first row must name the columns.');
  return {
    header,
    columns: header.map((name, index) => ({
      name: name.trim().slice(0, 60) || `Column ${index + 1}`,
      type: guesses[index].type,
      include: true,
    })),
  };
}

/** Holds every cell of the file against its column's type. */
async function checkFile({ path, delimiter, header }: PendingImport, columns: ImportColumn[]): Promise<FileCheck> {
  const check: FileCheck = { rows: 0, sample: [], problems: [], problemCount: 0 };
  const complain = (problem: ImportProblem): void => {
    check.problemCount++;
    if (check.problems.length < LISTED_PROBLEMS) check.problems.push(problem);
  };
  for await (const { line, cells } of readCsv(path, delimiter)) {
    if (line === 1) continue;
    check.rows++;
    if (check.sample.length < SAMPLE_ROWS) check.sample.push(cells);
    if (cells.length !== header.length) {
      complain({ row: line, column: '', text: '', message: `This row has ${cells.length} cells; the header has ${header.length}.` });
      continue;
    }
    columns.forEach((column, index) => {
      if (column.include && cellValue(column.type, cells[index]) === undefined) {
        complain({ row: line, column: column.name, text: cells[index].slice(0, 80), message: `is not ${TYPE_WORDS[column.type]}` });
      }
    });
  }
  return check;
}

/** Gives the kept columns their names and scales. */
async function nameColumns({ path, delimiter }: PendingImport, columns: ImportColumn[]): Promise<NamedColumn[]> {
  const guesses = columns.map(() => new TypeGuess());
  for await (const { line, cells } of readCsv(path, delimiter)) {
    if (line > 1) cells.forEach((cell, index) => guesses[index]?.see(cell));
  }
  const taken = new Set<string>();
  return columns.flatMap((column, index) => {
    const scale = column.type === 'decimal' ? guesses[index].scale : 0;
    return column.include ? [{ ...column, column: nameFor(column.name, taken), scale, source: index }] : [];
  });
}

const csvCell = (value: string | null): string => (value === null ? '' : `"${value.replaceAll('"', '""')}"`);

/** The kept cells as lines for COPY: missing values are bare, everything else is quoted, so that texts stay texts. */
async function* csvLines({ path, delimiter }: PendingImport, columns: NamedColumn[]): AsyncGenerator<string> {
  for await (const { line, cells } of readCsv(path, delimiter)) {
    if (line > 1) yield `${columns.map(({ source, type }) => csvCell(cellValue(type, cells[source]) ?? null)).join(',')}\n`;
  }
}
