import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  codedColumn,
  columnFrom,
  compareText,
  dictionaryOf,
  isMissing,
  numberText,
  textsOf,
  type NumberColumn,
  type TextColumn,
} from './index.ts';
import { numberPairs } from './kernels.ts';

const text = fc.oneof(fc.string({ maxLength: 8 }), fc.string({ unit: 'binary', maxLength: 6 }), fc.constantFrom('', 'ø', '𝄞 G', 'Käse'));

describe('texts of a column', () => {
  it('come back as they went in, whatever their letters, coded in the order of their code points', () => {
    fc.assert(
      fc.property(fc.array(fc.option(text)), (values) => {
        const column = columnFrom('text', values) as TextColumn;
        const { codes, members } = codedColumn(column);
        expect([...codes].map((code) => (code === 0 ? null : members[code - 1]))).toEqual(values);
        expect(members).toEqual([...new Set(values.filter((value): value is string => value !== null))].sort(compareText));
      }),
    );
  });

  it('are decoded alike where each letter is a byte and where some are more', () => {
    fc.assert(
      fc.property(fc.uniqueArray(text), (words) => {
        const sorted = words.toSorted(compareText);
        expect(textsOf(dictionaryOf(sorted))).toEqual(sorted);
      }),
    );
    const long = Array.from({ length: 3_000 }, (_, index) => `person ${String(index).padStart(5, '0')}`);
    expect(textsOf(dictionaryOf(long))).toEqual(long);
    expect(textsOf(dictionaryOf([...long, 'z ø']))).toEqual([...long, 'z ø']);
  });
});

describe('numbers of a column', () => {
  it('are coded by value, with missing ones apart, and wide ones beside narrow ones', () => {
    const value = fc.oneof(fc.integer({ min: -500, max: 500 }), fc.integer({ min: -(2 ** 40), max: 2 ** 40 }));
    fc.assert(
      fc.property(fc.array(fc.option(value)), (values) => {
        const column = columnFrom('integer', values) as NumberColumn;
        expect(values.map((_, row) => (isMissing(column, row) ? null : column.values[row]))).toEqual(values);
        const { codes, members } = codedColumn(column);
        expect([...codes].map((code) => (code === 0 ? null : Number(members[code - 1])))).toEqual(values);
        const known = values.filter((one): one is number => one !== null);
        expect(members.map(Number)).toEqual([...new Set(known)].sort((a, b) => a - b));
      }),
    );
  });

  it('are written with all their digits, dates as ISO 8601, truths in words', () => {
    const written = (type: NumberColumn['type'], units: number, scale = 0): string =>
      numberText({ kind: 'number', type, scale, values: new Int32Array(0), missing: null }, units);
    expect([written('decimal', 12_300, 2), written('decimal', -5, 3), written('integer', 7)]).toEqual(['123.00', '-0.005', '7']);
    // Days since 1970-01-01: a leap day, and one before the count begins.
    expect([written('date', 19_782), written('date', -1)]).toEqual(['2024-02-29', '1969-12-31']);
    expect([written('boolean', 1), written('boolean', 0)]).toEqual(['true', 'false']);
  });
});

describe('pairs of a number and a code', () => {
  it('are numbered in the order in which they come first, by a table and by a map alike', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(5), fc.nat(9)), { maxLength: 60 }), fc.boolean(), (pairs, isSparse) => {
        // Codes that are far apart have more pairs than a table holds.
        const apart = isSparse ? 1_000_003 : 1;
        const codes = Int32Array.from(pairs, ([, code]) => code * apart);
        const local = Int32Array.from(pairs, ([number]) => number);
        const rows = Int32Array.from(pairs, (_, row) => row);
        const first = new Int32Array(pairs.length);
        const count = numberPairs(codes, rows, pairs.length, local, first, 6);
        const seen: string[] = [];
        const expected = pairs.map((pair) => {
          const key = pair.join();
          if (!seen.includes(key)) seen.push(key);
          return seen.indexOf(key);
        });
        expect({ count, numbers: [...local] }).toEqual({ count: seen.length, numbers: expected });
        expect([...first.subarray(0, count)].map((row) => pairs[row].join())).toEqual(seen);
      }),
    );
  });
});
