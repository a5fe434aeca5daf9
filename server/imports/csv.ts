import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { parse } from 'csv-parse';
import { ApiError } from '../http/problems.ts';

const DELIMITERS = [',', ';', '\t', '|'];
const SNIFFED_BYTES = 64 * 1024;

/** Finds the delimiter: the one that cuts the first lines most often into the same number of cells. */
export async function sniffDelimiter(path: string): Promise<string> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(SNIFFED_BYTES), 0, SNIFFED_BYTES, 0);
    if (bytesRead === 0)
      throw new ApiError('file-invalid', 'This file is empty. Choose a file that has a header row and at least one more row.');
    const lines = buffer
      .subarray(0, bytesRead)
      .toString('utf8')
      .split(/\r\n|\n|\r/)
      .slice(0, 20)
      .filter((line) => line !== '');
    // Delimiters inside quotes do not count.
    const counts = DELIMITERS.map((delimiter) => lines.map((line) => line.replaceAll(/"(?:[^"]|"")*"/g, '').split(delimiter).length - 1));
    const scores = counts.map((perLine) =>
      perLine[0] === 0 ? 0 : perLine.filter((count) => count === perLine[0]).length * 1000 + perLine[0],
    );
    const best = Math.max(...scores);
    return best === 0 ? ',' : DELIMITERS[scores.indexOf(best)];
  } finally {
    await file.close();
  }
}

export interface CsvRow {
  /** Line of the file that the row starts at, the header being line 1. */
  line: number;
  cells: string[];
}

/** Reads a CSV file (RFC 4180) row by row, the header first. Throws ApiError `file-invalid` with the line of the fault. */
export async function* readCsv(path: string, delimiter: string): AsyncGenerator<CsvRow> {
  const parser = createReadStream(path).pipe(
    parse({ delimiter, bom: true, relax_column_count: true, skip_empty_lines: true, info: true, encoding: 'utf8' }),
  );
  let line = 1;
  try {
    for await (const { record, info } of parser as AsyncIterable<{ record: string[]; info: { lines: number } }>) {
      if (record.some((cell) => cell.includes('\ufffd'))) {
        throw new ApiError(
          'file-invalid',
          `Line ${line} holds characters that are not UTF-8. Save the file as "CSV UTF-8" and drop it again.`,
        );
      }
      yield { line, cells: record };
      line = info.lines + 1;
    }
  } catch (error) {
    if (error instanceof ApiError) throw error;
    const fault = error as { code?: string; lines?: number };
    if (fault.code?.startsWith('CSV_')) {
      const what = fault.code === 'CSV_QUOTE_NOT_CLOSED' ? 'a quoted cell is never closed' : 'the quotes do not match';
      throw new ApiError('file-invalid', `From line ${fault.lines ?? line} on ${what}. Mend the quotes there and drop the file again.`);
    }
    throw error;
  }
}
