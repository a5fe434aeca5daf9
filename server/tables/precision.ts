import { MOST_DIGITS } from '@bold-compass/core/imports';
import { isNumberType, type ColumnType } from '@bold-compass/core/model';
import type { AnyClient } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';
import { identifier, staged } from '../sql/index.ts';

/** Decimal places that a field can have. */
const MOST_SCALE = 12;
const count = new Intl.NumberFormat('en-GB');

/** A column of numbers as it was fetched, all digits kept. */
export interface FetchedColumn {
  column: string;
  label: string;
  type: ColumnType;
  /** Decimal places so far; null where nothing is known of them yet. */
  scale: number | null;
  /** Binary floating-point numbers, which are roundings themselves. */
  approximate: boolean;
}

export interface WidenedColumn {
  column: string;
  type: ColumnType;
  scale: number;
}

interface Measured {
  /** Decimal places that the numbers need. */
  scale: number;
  /** Digits before the point of the largest. */
  whole: number;
}

async function measure(client: AnyClient, table: string, columns: FetchedColumn[]): Promise<Measured[]> {
  if (columns.length === 0) return [];
  const outputs = columns.flatMap(({ column }, index) => {
    const value = `${identifier(column)}::numeric`;
    return [`max(scale(trim_scale(${value}))) AS s${index}`, `max(abs(trunc(${value})))::text AS w${index}`];
  });
  const { rows } = await client.query<Record<string, string | number | null>>(`SELECT ${outputs.join(', ')} FROM ${staged(table)}`);
  return columns.map((_, index) => ({
    scale: Number(rows[0][`s${index}`] ?? 0),
    whole: String(rows[0][`w${index}`] ?? '0').replace(/^0+/, '').length,
  }));
}

/**
 * Gives the numbers of a fetched table the decimal places they need, so that no digit is lost in silence. Whole numbers
 * that are too long to be counted become texts when they first come; binary floating-point numbers are rounded to what
 * can be held, and told. Everything else that cannot be held exactly is refused: ApiError `rows-refused`.
 */
export async function widenPrecision(
  client: AnyClient,
  table: string,
  columns: FetchedColumn[],
  isFirst: boolean,
): Promise<{ columns: WidenedColumn[]; notes: string[] }> {
  const numbers = columns.filter(({ type }) => isNumberType(type));
  const measured = await measure(client, table, numbers);
  const notes: string[] = [];
  const changes: string[] = [];
  const widened = new Map<string, WidenedColumn>();
  const become = (column: string, type: ColumnType, scale: number): void => {
    widened.set(column, { column, type, scale });
    const name = identifier(column);
    const target = type === 'text' ? 'text' : `numeric(${MOST_DIGITS + scale},${scale})`;
    changes.push(`ALTER COLUMN ${name} TYPE ${target} USING ${type === 'text' ? `${name}::text` : `round(${name}::numeric, ${scale})`}`);
  };
  for (const [index, { column, label, type, scale: before, approximate }] of numbers.entries()) {
    const { scale: needed, whole } = measured[index];
    const room = Math.min(MOST_SCALE, MOST_DIGITS - whole);
    if (type === 'integer') {
      if (room >= 0) continue;
      if (!isFirst) throw refused(label, whole, 0);
      notes.push(`“${label}” is kept as text: its numbers of ${whole} digits are more than can be counted exactly.`);
      become(column, 'text', 0);
      continue;
    }
    const wanted = Math.max(before ?? 0, needed);
    if (wanted <= room) {
      become(column, 'decimal', wanted);
      continue;
    }
    if (!approximate || room < 0 || (!isFirst && room < (before ?? 0))) throw refused(label, whole, wanted);
    const { rows } = await client.query<{ n: number }>(
      `SELECT count(*)::int AS n FROM ${staged(table)} WHERE ${identifier(column)}::numeric <> round(${identifier(column)}::numeric, ${room})`,
    );
    if (rows[0].n > 0)
      notes.push(`“${label}” holds floating-point numbers: ${count.format(rows[0].n)} of them were rounded to ${room} decimal places.`);
    become(column, 'decimal', room);
  }
  if (changes.length > 0) await client.query(`ALTER TABLE ${staged(table)} ${changes.join(', ')}`);
  return { columns: columns.map(({ column, type, scale }) => widened.get(column) ?? { column, type, scale: scale ?? 0 }), notes };
}

const refused = (label: string, whole: number, scale: number): ApiError =>
  new ApiError(
    'rows-refused',
    `“${label}” needs ${whole + scale} digits (${whole} before and ${scale} after the point), and up to ${MOST_DIGITS} are counted exactly. Round it in the query, or cast it to text.`,
  );
