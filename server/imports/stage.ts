import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { cellValue, scaleOf, typeWords, writtenCell, type CellRule, type ImportPlan } from '@bold-compass/core/imports';
import type { ColumnType } from '@bold-compass/core/model';
import { from as copyFrom } from 'pg-copy-streams';
import { ApiError } from '../problems/index.ts';
import { openClient } from '../database/index.ts';
import { identifier, staged as stagedName } from '../sql/index.ts';
import type { OnProgress } from './row.ts';
import { openRows } from './rows.ts';

/** A column of a staged table: its place in the file, its physical name and its type. */
export interface StagedColumn {
  source: number;
  column: string;
  type: ColumnType;
  scale: number;
}

export interface Staged {
  rows: number;
  /** Rows left out, and cells left empty, as the plan says. */
  skipped: number;
  emptied: number;
  /** Numbers that were rounded to the decimal places of their column, as the plan says. */
  rounded: number;
}

export const sqlType = ({ type, scale }: Pick<StagedColumn, 'type' | 'scale'>): string =>
  type === 'decimal'
    ? `numeric(${15 + scale},${scale})`
    : { text: 'text', integer: 'bigint', date: 'date', datetime: 'timestamp', boolean: 'boolean' }[type];

/** The columns of a table, for CREATE TABLE. */
export const columnDefinitions = (columns: Pick<StagedColumn, 'column' | 'type' | 'scale'>[]): string =>
  columns.map((one) => `${identifier(one.column)} ${sqlType(one)}`).join(', ');

/** A value for COPY: missing ones are bare, everything else is quoted, so that texts stay texts. */
export const csvCell = (value: string | null): string => (value === null ? '' : `"${value.replaceAll('"', '""')}"`);

/**
 * Copies a file's rows into a new table, as the plan says, in one transaction. Throws ApiError `rows-refused` at the
 * first thing that does not fit and that the plan stops at; nothing is left behind then.
 */
export async function stageFile(
  url: string,
  path: string,
  plan: ImportPlan,
  table: string,
  columns: StagedColumn[],
  onProgress: OnProgress,
): Promise<Staged> {
  const staged: Staged = { rows: 0, skipped: 0, emptied: 0, rounded: 0 };
  const client = await openClient({ connectionString: url });
  try {
    await client.query('BEGIN');
    await client.query(`CREATE TABLE ${stagedName(table)} (${columnDefinitions(columns)})`);
    const target = client.query(copyFrom(`COPY ${stagedName(table)} FROM STDIN (FORMAT csv)`));
    await pipeline(Readable.from(lines(path, plan, columns, staged, onProgress)), target);
    await client.query('COMMIT');
    return staged;
  } finally {
    await client.end().catch(() => undefined);
  }
}

/** Dates that are remembered at a time. */
const MOST_DATES = 100_000;

const refuse = (row: number, what: string): never => {
  throw new ApiError(
    'rows-refused',
    `Row ${row.toLocaleString('en-GB')} ${what}, so nothing was imported. Choose what is done with such rows.`,
  );
};

async function* lines(
  path: string,
  plan: ImportPlan,
  columns: StagedColumn[],
  staged: Staged,
  onProgress: OnProgress,
): AsyncGenerator<string> {
  const { reading, choices } = plan;
  const { header, rows } = await openRows(path, reading, onProgress, true);
  const seen = plan.key.length > 0 ? new Set<string>() : null;
  const taken = columns.map((column) => ({
    ...column,
    rule: { type: column.type, scale: column.scale, empties: plan.columns[column.source].empties },
    choice: choices[`misfit ${column.source}`] ?? 'stop',
    mayRound: ['round', 'widen'].includes(choices[`rounded ${column.source}`] ?? 'stop'),
    name: plan.columns[column.source].name,
  }));
  // Dates repeat themselves: each is calculated once.
  const dates = new Map<string, string | null | undefined>();
  const valueOf = (rule: CellRule, cell: string): string | null | undefined => {
    if (rule.type !== 'date') return cellValue(rule, reading, cell);
    if (!dates.has(cell)) {
      if (dates.size > MOST_DATES) dates.clear();
      dates.set(cell, cellValue(rule, reading, cell));
    }
    return dates.get(cell);
  };
  const line = (row: number, cells: string[]): string | null => {
    if (cells.length !== header.length) {
      if (choices.ragged === 'skip') return null;
      if (choices.ragged !== 'cut') refuse(row, `has ${cells.length} cells, not ${header.length}`);
    }
    if (seen) {
      const parts = plan.key.map((position) => writtenCell(cells[position] ?? '', '.').trim());
      const empty = parts.findIndex((part, index) => part === '' || plan.columns[plan.key[index]].empties.includes(part));
      if (empty >= 0) {
        if (choices[`empty key ${plan.key[empty]}`] === 'skip') return null;
        refuse(row, `has no value in ${plan.columns[plan.key[empty]].name}, which is a part of the key`);
      }
      const key = parts.join('\u0000');
      if (seen.has(key)) {
        if (choices.duplicate === 'skip') return null;
        refuse(row, 'has a key that an earlier row has');
      }
      seen.add(key);
    }
    const values: string[] = [];
    for (const { source, rule, choice, mayRound, name } of taken) {
      let value = valueOf(rule, cells[source] ?? '');
      if (value === undefined) {
        if (choice === 'skip') return null;
        if (choice !== 'empty')
          refuse(row, `holds “${writtenCell(cells[source], '.').slice(0, 60)}” in ${name}, which is not ${typeWords(rule.type, reading)}`);
        staged.emptied++;
        value = null;
      }
      if (rule.type === 'decimal' && value !== null && scaleOf(value) > rule.scale) {
        if (!mayRound)
          refuse(row, `holds ${writtenCell(cells[source], '.').trim()} in ${name}, which has more than ${rule.scale} decimal places`);
        staged.rounded++;
      }
      values.push(csvCell(value));
    }
    return values.join(',');
  };
  for await (const batch of rows) {
    const out: string[] = [];
    for (const { row, cells } of batch) {
      const text = line(row, cells);
      if (text === null) staged.skipped++;
      else out.push(text);
    }
    staged.rows += out.length;
    if (out.length > 0) yield `${out.join('\n')}\n`;
  }
}
