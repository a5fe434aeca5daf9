import { isoDate } from '../calendar/index.ts';
import { textDecoder, textEncoder } from './text.ts';

/** Distinct texts in code-point order, kept as bytes so that threads share them. */
export interface Dictionary {
  bytes: Uint8Array;
  /** Start of each text in `bytes`, and the end of the last: one longer than the number of texts. */
  offsets: Int32Array;
}

/** Texts as codes: 0 is missing, c stands for text c - 1 of the dictionary. */
export interface TextColumn {
  kind: 'text';
  codes: Int32Array;
  dictionary: Dictionary;
}

/** Numbers as integers of 10^-scale; dates as days since 1970-01-01; booleans as 0 and 1. */
export interface NumberColumn {
  kind: 'number';
  type: 'integer' | 'decimal' | 'date' | 'boolean';
  values: Int32Array | Float64Array;
  scale: number;
  /** Bit r is set where record r has no value; null when every record has one. */
  missing: Uint8Array | null;
}

export type Column = TextColumn | NumberColumn;

/** Rows of another table: 0 is "none", r stands for row r - 1. */
export type Reference = Int32Array;

export interface Table {
  rows: number;
  columns: Record<string, Column>;
}

export interface FactTable extends Table {
  /** Per dimension: the row that each record belongs to. For the calendar: days since its first day. */
  links: Record<string, Reference>;
}

/** A dataset in memory. Plain data over shared buffers: it can be handed to other threads without copying. */
export interface Store {
  version: string;
  /** First day and number of days that the calendar spans. */
  calendar: { first: number; days: number };
  dimensions: Record<string, Table>;
  /** Dimensions cut off at a coarser level, for facts kept there: `territory@country`. */
  rollups: Record<string, Table>;
  facts: Record<string, FactTable>;
}

const derivedByStore = new WeakMap<Store, Map<string, unknown>>();

/** Something that follows from a store alone, such as the words for members: calculated once for each store. */
export function derivedOfStore<Value>(store: Store, key: string, work: () => Value): Value {
  let derived = derivedByStore.get(store);
  if (!derived) derivedByStore.set(store, (derived = new Map()));
  if (!derived.has(key)) derived.set(key, work());
  return derived.get(key) as Value;
}

export const rollupName = (dimension: string, level: string): string => `${dimension}@${level}`;

/** Name of the column with the words for a level's members. */
export const labelColumnName = (level: string): string => `${level} label`;

export function isMissing(column: NumberColumn, row: number): boolean {
  return column.missing !== null && (column.missing[row >> 3] & (1 << (row & 7))) !== 0;
}

const decoded = new WeakMap<Uint8Array, string[]>();

/** The texts of a dictionary, decoded once. */
export function textsOf(dictionary: Dictionary): string[] {
  const known = decoded.get(dictionary.bytes);
  if (known) return known;
  const { bytes, offsets } = dictionary;
  // Where every character is one byte, all are decoded at once and cut.
  const whole = textDecoder.decode(bytes.slice());
  const isSingle = whole.length === bytes.length;
  const texts: string[] = [];
  for (let index = 0; index + 1 < offsets.length; index++) {
    const [from, to] = [offsets[index], offsets[index + 1]];
    texts.push(isSingle ? whole.slice(from, to) : textDecoder.decode(bytes.slice(from, to)));
  }
  decoded.set(bytes, texts);
  return texts;
}

/** Builds a dictionary from texts that are already distinct and in code-point order. */
export function dictionaryOf(texts: string[]): Dictionary {
  const encoded = texts.map((text) => textEncoder.encode(text));
  const bytes = new Uint8Array(new SharedArrayBuffer(encoded.reduce((sum, part) => sum + part.length, 0)));
  const offsets = new Int32Array(new SharedArrayBuffer((texts.length + 1) * 4));
  let position = 0;
  encoded.forEach((part, index) => {
    offsets[index] = position;
    bytes.set(part, position);
    position += part.length;
  });
  offsets[texts.length] = position;
  return { bytes, offsets };
}

/** One number of a column as text: decimals with all their digits, dates as ISO 8601. */
export function numberText(column: NumberColumn, value: number): string {
  if (column.type === 'date') return isoDate(value);
  if (column.type === 'boolean') return value === 1 ? 'true' : 'false';
  return (value / 10 ** column.scale).toFixed(column.scale);
}

export interface Coded {
  /** Member code per row; 0 is missing. */
  codes: Int32Array;
  /** Members in natural order; code c stands for `members[c - 1]`. */
  members: string[];
}

const codedNumbers = new WeakMap<NumberColumn, Coded>();

/** A column as codes of sorted members, whatever its kind. Numbers are coded on first use and remembered. */
export function codedColumn(column: Column): Coded {
  if (column.kind === 'text') return { codes: column.codes, members: textsOf(column.dictionary) };
  const known = codedNumbers.get(column);
  if (known) return known;
  const { values } = column;
  const distinct = new Set<number>();
  for (let row = 0; row < values.length; row++) if (!isMissing(column, row)) distinct.add(values[row]);
  const sorted = Float64Array.from(distinct).sort();
  const codeOf = new Map<number, number>();
  sorted.forEach((value, index) => codeOf.set(value, index + 1));
  const codes = new Int32Array(values.length);
  for (let row = 0; row < values.length; row++) if (!isMissing(column, row)) codes[row] = codeOf.get(values[row])!;
  const coded = { codes, members: Array.from(sorted, (value) => numberText(column, value)) };
  codedNumbers.set(column, coded);
  return coded;
}

/** Bytes that a fact's columns take, without the dictionaries. */
export function bytesOf(fact: FactTable): number {
  let bytes = 0;
  for (const column of Object.values(fact.columns)) {
    bytes += column.kind === 'text' ? column.codes.byteLength : column.values.byteLength + (column.missing?.byteLength ?? 0);
  }
  for (const link of Object.values(fact.links)) bytes += link.byteLength;
  return bytes;
}
