import { parseIsoDate } from '@bold-compass/core/calendar';
import type { ColumnType } from '@bold-compass/core/model';

const INTEGER = /^[+-]?\d{1,15}$/;
const DECIMAL = /^[+-]?(?:\d{1,15}(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d{1,2})?$/;
const TRUE = new Set(['true', 'yes', 'y']);
const FALSE = new Set(['false', 'no', 'n']);
const MOST_SCALE = 6;

/** A cell as PostgreSQL takes it in, or undefined where the text is no value of the type. Empty cells are missing values. */
export function cellValue(type: ColumnType, cell: string): string | null | undefined {
  const text = cell.trim();
  if (text === '') return null;
  switch (type) {
    case 'text':
      return cell;
    case 'integer':
      return INTEGER.test(text) ? text : undefined;
    case 'decimal':
      return DECIMAL.test(text) ? text : undefined;
    case 'date':
      return parseIsoDate(text) === undefined ? undefined : text;
    case 'boolean': {
      const lower = text.toLowerCase();
      return TRUE.has(lower) ? 'true' : FALSE.has(lower) ? 'false' : undefined;
    }
  }
}

/** What a cell should look like, for messages. */
export const TYPE_WORDS: Record<ColumnType, string> = {
  text: 'text',
  integer: 'a whole number',
  decimal: 'a number such as 1234.5',
  date: 'a date such as 2026-10-31',
  boolean: 'yes or no',
};

const scaleOf = (text: string): number => {
  const exponent = /[eE]/.test(text);
  const point = text.indexOf('.');
  return exponent ? MOST_SCALE : point < 0 ? 0 : Math.min(MOST_SCALE, text.length - point - 1);
};

/** Watches the cells of a column and tells the narrowest type that fits all of them. */
export class TypeGuess {
  private readonly fitting = new Set<ColumnType>(['integer', 'decimal', 'date', 'boolean']);
  private filled = 0;
  scale = 0;

  see(cell: string): void {
    const text = cell.trim();
    if (text === '') return;
    this.filled++;
    for (const type of this.fitting) if (cellValue(type, text) === undefined) this.fitting.delete(type);
    if (this.fitting.has('decimal')) this.scale = Math.max(this.scale, scaleOf(text));
  }

  get type(): ColumnType {
    if (this.filled === 0) return 'text';
    return (['integer', 'decimal', 'date', 'boolean'] as const).find((type) => this.fitting.has(type)) ?? 'text';
  }
}
