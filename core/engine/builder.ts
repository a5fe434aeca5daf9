import { compareText } from './text.ts';
import { dictionaryOf, type Column, type NumberColumn, type Reference, type TextColumn } from './columns.ts';

/** A growing column of 32-bit integers over shared memory. */
class GrowingInts {
  private chunk = new Int32Array(new SharedArrayBuffer(4096 * 4));
  length = 0;
  push(value: number): void {
    if (this.length === this.chunk.length) {
      const larger = new Int32Array(new SharedArrayBuffer(this.chunk.length * 8));
      larger.set(this.chunk);
      this.chunk = larger;
    }
    this.chunk[this.length++] = value;
  }
  /** A copy of exactly the filled length. */
  finish(): Int32Array {
    const exact = new Int32Array(new SharedArrayBuffer(this.length * 4));
    exact.set(this.chunk.subarray(0, this.length));
    return exact;
  }
}

/** Collects texts into a dictionary-coded column. */
export class TextColumnBuilder {
  private readonly firstCodes = new GrowingInts();
  private readonly seen = new Map<string, number>();

  push(value: string | null): void {
    if (value === null) {
      this.firstCodes.push(0);
      return;
    }
    let code = this.seen.get(value);
    if (code === undefined) {
      code = this.seen.size + 1;
      this.seen.set(value, code);
    }
    this.firstCodes.push(code);
  }

  finish(): TextColumn {
    const codes = this.firstCodes.finish();
    const sorted = [...this.seen.keys()].sort(compareText);
    const renumbered = new Int32Array(sorted.length + 1);
    sorted.forEach((text, index) => {
      renumbered[this.seen.get(text)!] = index + 1;
    });
    for (let row = 0; row < codes.length; row++) codes[row] = renumbered[codes[row]];
    return { kind: 'text', codes, dictionary: dictionaryOf(sorted) };
  }
}

/** Collects scaled integers; 32 bits each until one needs more. */
export class NumberColumnBuilder {
  private readonly ints = new GrowingInts();
  private wide: number[] | null = null;
  private readonly missingRows: number[] = [];
  private length = 0;

  constructor(
    private readonly type: NumberColumn['type'],
    private readonly scale: number,
  ) {}

  /** `value` counts units of 10^-scale; null is missing. */
  push(value: number | null): void {
    const stored = value ?? 0;
    if (value === null) this.missingRows.push(this.length);
    this.length++;
    if (this.wide) this.wide.push(stored);
    else if (stored === (stored | 0)) this.ints.push(stored);
    else {
      this.wide = Array.from(this.ints.finish());
      this.wide.push(stored);
    }
  }

  finish(): NumberColumn {
    let values: Int32Array | Float64Array;
    if (this.wide) {
      values = new Float64Array(new SharedArrayBuffer(this.length * 8));
      values.set(this.wide);
    } else {
      values = this.ints.finish();
    }
    let missing: Uint8Array | null = null;
    if (this.missingRows.length > 0) {
      missing = new Uint8Array(new SharedArrayBuffer((this.length + 7) >> 3));
      for (const row of this.missingRows) missing[row >> 3] |= 1 << (row & 7);
    }
    return { kind: 'number', type: this.type, values, scale: this.scale, missing };
  }
}

/** Collects references to the rows of another table. */
export class ReferenceBuilder {
  private readonly rows = new GrowingInts();
  /** `row` counts from 0; null is "none". */
  push(row: number | null): void {
    this.rows.push(row === null ? 0 : row + 1);
  }
  finish(): Reference {
    return this.rows.finish();
  }
}

/** Builds a column from plain values; for small tables and tests. Decimals are given as numbers or texts. */
export function columnFrom(type: 'text' | NumberColumn['type'], values: readonly (string | number | boolean | null)[], scale = 0): Column {
  if (type === 'text') {
    const builder = new TextColumnBuilder();
    for (const value of values) builder.push(value === null ? null : String(value));
    return builder.finish();
  }
  const builder = new NumberColumnBuilder(type, scale);
  for (const value of values) builder.push(value === null ? null : Math.round(Number(value) * 10 ** scale));
  return builder.finish();
}
