import { extname } from 'node:path';
import { EMPTY_WORDS, writtenCell, type Reading } from '@bold-compass/core/imports';
import { ApiError } from '../problems/index.ts';
import { readDelimited } from './delimited.ts';
import { detectHeaderRow, startOf } from './detect.ts';
import { readJson } from './json.ts';
import type { OnProgress, Row, RowBatches } from './row.ts';
import { readSpreadsheet, sheetsOf } from './spreadsheet.ts';

/** How a file is read, where nobody has said yet, and the sheets to choose from. Throws ApiError `file-invalid`. */
export async function detectReading(path: string, fileName: string): Promise<{ reading: Reading; sheets: string[] }> {
  const start = await startOf(path);
  const base = { decimalSign: '.', dateOrder: 'ymd', emptyWords: EMPTY_WORDS, delimiter: ',', encoding: 'utf-8', sheet: '' } as const;
  if (start.kind === 'zip') {
    if (!['.xlsx', '.xlsm'].includes(extname(fileName).toLowerCase())) {
      throw new ApiError('file-invalid', 'This is a compressed file that is no spreadsheet. Unpack it and drop what is inside.');
    }
    const sheets = await sheetsOf(path);
    const reading: Reading = { ...base, format: 'spreadsheet', sheet: sheets[0], headerRow: 1 };
    return { reading: { ...reading, headerRow: await detectHeaderRow(rowsOf(path, { ...reading, headerRow: 0 })) }, sheets };
  }
  if (start.kind === 'json') return { reading: { ...base, format: 'json', encoding: start.encoding, headerRow: 0 }, sheets: [] };
  const reading: Reading = { ...base, format: 'delimited', encoding: start.encoding, delimiter: start.delimiter, headerRow: 1 };
  return { reading: { ...reading, headerRow: await detectHeaderRow(rowsOf(path, reading)) }, sheets: [] };
}

function rowsOf(path: string, reading: Reading, onProgress?: OnProgress): RowBatches {
  switch (reading.format) {
    case 'delimited':
      return readDelimited(path, reading, onProgress);
    case 'spreadsheet':
      return readSpreadsheet(path, reading.sheet, onProgress);
    case 'json':
      return readJson(path, reading.encoding, onProgress);
  }
}

/**
 * The names of a file's columns, and its rows below them. Throws ApiError `file-invalid` where the file cannot be read
 * that way, with the row of the fault. `keepNumbers` leaves cells that are numbers in a format that has some known as such.
 */
export async function openRows(
  path: string,
  reading: Reading,
  onProgress?: OnProgress,
  keepNumbers = false,
): Promise<{ header: string[]; rows: RowBatches }> {
  const batches = rowsOf(path, reading, onProgress);
  const noNames = new ApiError('file-invalid', 'This file is empty. Choose a file that has a header row and at least one more row.');
  // Records bring their names: their first row is the header.
  const headerRow = reading.format === 'json' ? 1 : reading.headerRow;
  for (;;) {
    const { value: batch, done } = await batches.next();
    if (done) throw noNames;
    const at = batch.findIndex(({ row }) => headerRow === 0 || row >= headerRow);
    if (at < 0) continue;
    const first = batch[at];
    const header = first.cells.map((cell, index) => (headerRow === 0 ? `Column ${index + 1}` : writtenCell(cell, '.')));
    if (header.length > 500) {
      throw new ApiError('file-invalid', `This file has ${header.length} columns; up to 500 can be brought in. Leave some out of it.`);
    }
    const rest = batch.slice(headerRow === 0 ? at : at + 1);
    const all = following(rest, batches);
    const rows = keepNumbers || reading.format === 'delimited' ? all : written(all, reading.decimalSign);
    return { header, rows: reading.format === 'spreadsheet' ? padded(rows, header.length) : rows };
  }
}

/** Cells as the file would write them: numbers that are known as such in its notation. */
async function* written(batches: RowBatches, sign: Reading['decimalSign']): RowBatches {
  for await (const batch of batches) yield batch.map(({ row, cells }) => ({ row, cells: cells.map((cell) => writtenCell(cell, sign)) }));
}

async function* following(first: Row[], rest: RowBatches): RowBatches {
  if (first.length > 0) yield first;
  yield* rest;
}

/** Trailing empty cells are not written in sheets: they are not missing. */
async function* padded(batches: RowBatches, width: number): RowBatches {
  for await (const batch of batches) {
    for (const { cells } of batch) while (cells.length < width) cells.push('');
    yield batch;
  }
}
