import { Tokenizer, TokenParser } from '@streamparser/json';
import { numberCell, plainNumber, textCell, type Reading } from '@bold-compass/core/imports';
import { ApiError } from '../problems/index.ts';
import type { OnProgress, Row, RowBatches } from './row.ts';
import { textChunks } from './text-chunks.ts';

/** A number with more digits than a double holds, or with an exponent, in plain digits. */
class LongNumber {
  constructor(readonly digits: string) {}
  toJSON(): string {
    return this.digits;
  }
}

/** A number of JSON, with all of its digits: an identifier of 18 digits is not to be rounded. */
const exactNumber = (text: string): number | LongNumber =>
  text.length <= 15 && !/e/i.test(text) ? Number(text) : new LongNumber(plainNumber(text, '.') ?? text);

class ExactTokenizer extends Tokenizer {
  override parseNumber(text: string): number {
    // Whatever this gives is handed on as the value.
    return exactNumber(text) as number;
  }
}

/** Reads JSON piece by piece and hands on the values at some paths. Throws where it is no JSON. */
class ExactParser {
  private readonly tokenizer = new ExactTokenizer();
  private readonly values: TokenParser;

  constructor(paths: string[] | undefined, onValue: (value: unknown) => void) {
    this.values = new TokenParser({ paths, keepStack: false });
    this.values.onValue = ({ value }) => onValue(value);
    this.tokenizer.onToken = (token) => this.values.write(token);
    const fail = (error: Error): never => {
      throw error;
    };
    this.tokenizer.onError = fail;
    this.values.onError = fail;
  }

  write(text: string): void {
    this.tokenizer.write(text);
  }

  get isEnded(): boolean {
    return this.values.isEnded;
  }
}

/** Numbers that JavaScript's own parser would round, or write in another way. */
const LONG_NUMBER = /\d{16}|\d\.\d{14}|\d[eE][+-]?\d/;

/** One record of JSON, its numbers exact. */
function parseRecord(text: string): unknown {
  if (!LONG_NUMBER.test(text)) return JSON.parse(text);
  // JavaScript's own parser is stricter about what comes after a value.
  JSON.parse(text);
  let found: unknown;
  new ExactParser(['$'], (value) => (found = value)).write(text);
  return found;
}

/** Values of a record as cells: nested records by the path to their parts, lists as JSON. */
function flatten(record: object, into: Map<string, string>, prefix = ''): Map<string, string> {
  for (const [name, value] of Object.entries(record) as [string, unknown][]) {
    if (value instanceof LongNumber) into.set(prefix + name, numberCell(value.digits));
    else if (value !== null && typeof value === 'object' && !Array.isArray(value)) flatten(value, into, `${prefix}${name}.`);
    else if (typeof value === 'number') into.set(prefix + name, numberCell(String(value)));
    else into.set(prefix + name, value === null ? '' : typeof value === 'string' ? textCell(value) : JSON.stringify(value));
  }
  return into;
}

/** Records one after another, from a list of records or from one record a line. */
async function* records(path: string, encoding: Reading['encoding'], onProgress?: OnProgress): AsyncGenerator<unknown[]> {
  const found: unknown[] = [];
  let parser: ExactParser | undefined;
  let number = 0;
  let line = '';
  const parseLine = (text: string): void => {
    if (text.trim() === '') return;
    number++;
    try {
      found.push(parseRecord(text));
    } catch {
      throw new ApiError('file-invalid', `Record ${number} is not JSON. Mend it and drop the file again.`);
    }
  };
  for await (const text of textChunks(path, encoding, onProgress)) {
    if (number === 0 && line === '' && !parser && text.trimStart().startsWith('[')) {
      parser = new ExactParser(['$.*'], (value) => found.push(value));
    }
    if (parser) {
      try {
        parser.write(text);
      } catch {
        throw new ApiError(
          'file-invalid',
          `This is not JSON after record ${number + found.length}. Mend it there and drop the file again.`,
        );
      }
    } else {
      const lines = (line + text).split('\n');
      line = lines.pop()!;
      lines.forEach(parseLine);
    }
    if (found.length > 0) {
      if (parser) number += found.length;
      yield found.splice(0);
    }
  }
  if (parser && !parser.isEnded)
    throw new ApiError('file-invalid', 'The list in this file is never closed: it may be cut off. Drop it again.');
  parseLine(line);
  if (found.length > 0) yield found;
}

/** Whether a text begins as JSON that holds records: an object, or a list of objects, or an empty one. */
export const looksLikeJson = (text: string): boolean => /^\s*(\[\s*[{\]]|\{)/.test(text);

/**
 * Reads JSON records: a list of records, or one a line. The first row holds the names, in the order they are first
 * met; so the file is read twice. Throws ApiError `file-invalid`.
 */
export async function* readJson(path: string, encoding: Reading['encoding'], onProgress?: OnProgress): RowBatches {
  const names = new Map<string, number>();
  let number = 0;
  const asRecord = (value: unknown): Map<string, string> => {
    number++;
    if (value === null || typeof value !== 'object' || Array.isArray(value)) {
      throw new ApiError(
        'file-invalid',
        `Entry ${number} of this file is no record. A JSON file must be a list of records, or one record a line.`,
      );
    }
    return flatten(value, new Map());
  };
  for await (const batch of records(path, encoding, onProgress && ((share) => onProgress(share / 2)))) {
    for (const value of batch) for (const name of asRecord(value).keys()) if (!names.has(name)) names.set(name, names.size);
  }
  if (names.size === 0) return;
  yield [{ row: 1, cells: [...names.keys()] }];
  number = 0;
  for await (const batch of records(path, encoding, onProgress && ((share) => onProgress(0.5 + share / 2)))) {
    const rows = batch.map((value): Row => {
      const record = asRecord(value);
      return { row: number + 1, cells: [...names.keys()].map((name) => record.get(name) ?? '') };
    });
    yield rows;
  }
}
