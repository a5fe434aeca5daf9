import { Analyst, type Analysis, type Reading } from '@bold-compass/core/imports';
import type { OnProgress } from './row.ts';
import { openRows } from './rows.ts';

/** Rows of a file that are shown before it is brought in. */
const SAMPLE_ROWS = 200;

/** Looks at a whole file. Throws ApiError `file-invalid`. */
export async function analyseFile(path: string, reading: Reading, onProgress: OnProgress): Promise<Analysis> {
  const { header, rows } = await openRows(path, reading, onProgress, true);
  const analyst = new Analyst(header, reading, SAMPLE_ROWS);
  for await (const batch of rows) for (const { row, cells } of batch) analyst.see(row, cells);
  return analyst.finish();
}

export interface Duplicates {
  count: number;
  examples: { row: number; text: string }[];
}

/** Rows whose key an earlier row has, in the columns given by their positions. */
export async function findDuplicates(path: string, reading: Reading, key: number[], onProgress: OnProgress): Promise<Duplicates> {
  const { rows } = await openRows(path, reading, onProgress);
  const seen = new Set<string>();
  const found: Duplicates = { count: 0, examples: [] };
  for await (const batch of rows) {
    for (const { row, cells } of batch) {
      const own = key.map((position) => (cells[position] ?? '').trim()).join('\u0000');
      if (seen.has(own)) {
        found.count++;
        if (found.examples.length < 50) found.examples.push({ row, text: own.replaceAll('\u0000', ', ').slice(0, 80) });
      } else seen.add(own);
    }
  }
  return found;
}
