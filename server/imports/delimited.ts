import type { Reading } from '@bold-compass/core/imports';
import Papa from 'papaparse';
import { ApiError } from '../problems/index.ts';
import type { OnProgress, Row, RowBatches } from './row.ts';
import { textChunks } from './text-chunks.ts';

/** A quoted cell longer than this is taken as never closed. */
const LONGEST_CELL = 4 * 1024 * 1024;

interface Parsed {
  data: string[][];
  errors: { type: string; code: string; row?: number }[];
  meta: { cursor: number };
}

/** Reads a delimited file (RFC 4180, any of four delimiters). Empty lines are left out. Throws ApiError `file-invalid`. */
export async function* readDelimited(
  path: string,
  { delimiter, encoding }: Pick<Reading, 'delimiter' | 'encoding'>,
  onProgress?: OnProgress,
): RowBatches {
  let pending = '';
  let row = 0;
  const parse = (last: boolean): Row[] => {
    const parser = new Papa.Parser({ delimiter, newline: '\n' });
    const { data, errors, meta } = parser.parse(pending, 0, !last) as Parsed;
    const fault = errors.find(({ type }) => type === 'Quotes');
    if (fault) refuse(row + (fault.row ?? 0) + 1, fault.code === 'MissingQuotes');
    pending = last ? '' : pending.slice(meta.cursor);
    if (pending.length > LONGEST_CELL) refuse(row + data.length + 1, true);
    const rows: Row[] = [];
    for (const cells of data) {
      row++;
      if (cells.length > 1 || cells[0] !== '') rows.push({ row, cells });
    }
    return rows;
  };
  for await (const text of textChunks(path, encoding, onProgress)) {
    pending += text;
    const rows = parse(false);
    if (rows.length > 0) yield rows;
  }
  const rest = parse(true);
  if (rest.length > 0) yield rest;
}

function refuse(row: number, open: boolean): never {
  const what = open ? 'a quoted cell is never closed' : 'a quoted cell goes on after its closing quote';
  throw new ApiError('file-invalid', `In row ${row.toLocaleString('en-GB')} ${what}. Mend the quotes there and drop the file again.`);
}
