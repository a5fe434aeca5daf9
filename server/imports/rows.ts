import { DEFAULT_READING, importFormat, writtenCell, type ImportFormat, type Reading } from '@bold-compass/core/imports';
import { ApiError } from '../problems/index.ts';
import { detectHeaderRow } from './detect.ts';
import { startOf } from './file-start.ts';
import { FILE_FORMATS } from './formats.ts';
import type { OnProgress, Row, RowBatches } from './row.ts';

/** How a file is read, where nobody has said yet, and the sheets to choose from. Throws ApiError `file-invalid`. */
export async function detectReading(path: string, fileName: string): Promise<{ reading: Reading; sheets: string[] }> {
  const start = await startOf(path, fileName);
  for (const format of Object.keys(FILE_FORMATS) as ImportFormat[]) {
    const found = await FILE_FORMATS[format].detect(start);
    if (!found) continue;
    const reading: Reading = { ...DEFAULT_READING, headerRow: 0, ...found, format };
    const sheets = (await FILE_FORMATS[format].sheets?.(path)) ?? [];
    if (importFormat(format).namesInRecords) return { reading, sheets };
    return { reading: { ...reading, headerRow: await detectHeaderRow(FILE_FORMATS[format].rows(path, reading)) }, sheets };
  }
  throw new ApiError('file-invalid', 'This file is of no known format. Choose a CSV, XLSX or JSON file.');
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
  const { namesInRecords, knowsNumbers, leavesOutEnds } = importFormat(reading.format);
  const batches = FILE_FORMATS[reading.format].rows(path, reading, onProgress);
  const noNames = new ApiError('file-invalid', 'This file is empty. Choose a file that has a header row and at least one more row.');
  // Records bring their names: their first row is the header.
  const headerRow = namesInRecords ? 1 : reading.headerRow;
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
    const rows = keepNumbers || !knowsNumbers ? all : written(all, reading.decimalSign);
    return { header, rows: leavesOutEnds ? padded(rows, header.length) : rows };
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
