import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { BOOLEAN_BIT, shapesOf, type Reading } from '@bold-compass/core/imports';
import { ApiError } from '../problems/index.ts';
import type { Row, RowBatches } from './row.ts';

const DELIMITERS = [',', ';', '\t', '|'] as const;
const SNIFFED_BYTES = 64 * 1024;

type Start =
  | { kind: 'zip' }
  | { kind: 'json'; encoding: Reading['encoding'] }
  | { kind: 'delimited'; encoding: Reading['encoding']; delimiter: Reading['delimiter'] };

/** Whether a whole file is UTF-8. */
async function isUtf8(path: string): Promise<boolean> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  try {
    for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) decoder.decode(chunk as Buffer, { stream: true });
    decoder.decode();
    return true;
  } catch {
    return false;
  }
}

async function encodingOf(path: string, bytes: Buffer): Promise<Reading['encoding']> {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  // Without a mark, zeros at every other byte tell two-byte letters.
  const zeros = [0, 1].map((parity) => bytes.filter((byte, index) => byte === 0 && index % 2 === parity).length);
  if (zeros[1] > bytes.length / 5) return 'utf-16le';
  if (zeros[0] > bytes.length / 5) return 'utf-16be';
  if (bytes.includes(0)) throw new ApiError('file-invalid', 'This is not a text file, nor a spreadsheet. Choose a CSV, XLSX or JSON file.');
  return (await isUtf8(path)) ? 'utf-8' : 'windows-1252';
}

/** The delimiter that cuts the first lines most often into the same number of cells; those inside quotes do not count. */
function delimiterOf(text: string): Reading['delimiter'] {
  const lines = text
    .split(/\r\n|\n|\r/)
    .slice(0, 30)
    .filter((line) => line !== '');
  const scores = DELIMITERS.map((delimiter) => {
    const counts = lines.map((line) => line.replaceAll(/"(?:[^"]|"")*"/g, '').split(delimiter).length - 1).filter((count) => count > 0);
    const same = Math.max(0, ...counts.map((count) => counts.filter((other) => other === count).length));
    return same * 1000 + Math.max(0, ...counts);
  });
  const best = Math.max(...scores);
  return best === 0 ? ',' : DELIMITERS[scores.indexOf(best)];
}

/** What the beginning of a file says about how it is written. Throws ApiError `file-invalid` for an empty one. */
export async function startOf(path: string): Promise<Start> {
  const file = await open(path);
  let bytes: Buffer;
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(SNIFFED_BYTES), 0, SNIFFED_BYTES, 0);
    bytes = buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
  if (bytes.length === 0) {
    throw new ApiError('file-invalid', 'This file is empty. Choose a file that has a header row and at least one more row.');
  }
  if (bytes.subarray(0, 4).equals(Buffer.from('PK\u0003\u0004'))) return { kind: 'zip' };
  if (bytes.subarray(0, 4).equals(Buffer.from([0xd0, 0xcf, 0x11, 0xe0]))) {
    throw new ApiError(
      'file-invalid',
      'This is a spreadsheet of the old kind (.xls), or one with a password. Save it as .xlsx and drop that.',
    );
  }
  const encoding = await encodingOf(path, bytes);
  const text = new TextDecoder(encoding).decode(bytes);
  if (/^\s*(\[\s*[{\]]|\{)/.test(text)) return { kind: 'json', encoding };
  return { kind: 'delimited', encoding, delimiter: delimiterOf(text) };
}

/**
 * The row of the names: the first as wide as most rows, below any title lines; 0 where that row holds numbers or dates,
 * as names do not.
 */
export async function detectHeaderRow(batches: RowBatches): Promise<number> {
  const { value: batch } = await batches.next();
  await batches.return(undefined);
  const first = ((batch ?? []) as Row[]).slice(0, 40);
  if (first.length === 0) return 1;
  const usual = first.map(({ cells }) => cells.length).toSorted((a, b) => a - b)[Math.floor(first.length / 2)];
  const names = first.find(({ cells }) => cells.length > usual / 2) ?? first[0];
  const isValue = (cell: string): boolean => (shapesOf(cell) & ~BOOLEAN_BIT) !== 0 && !/^(19|20)\d\d$/.test(cell);
  return names.cells.some((cell) => cell.trim() !== '' && isValue(cell.trim())) ? 0 : names.row;
}
