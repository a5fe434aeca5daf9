import { extname } from 'node:path';
import type { ImportFormat, Reading } from '@bold-compass/core/imports';
import { ApiError } from '../problems/index.ts';
import { readDelimited } from './delimited.ts';
import { delimiterOf } from './detect.ts';
import { looksLikeJson, readJson } from './json.ts';
import type { FileStart } from './file-start.ts';
import type { OnProgress, RowBatches } from './row.ts';
import { readSpreadsheet, sheetsOf } from './spreadsheet.ts';

/** How files of a format are known and read. */
interface FileFormat {
  /** What a file says of itself, where it is of this format; null where it is not. Throws ApiError `file-invalid` for one that cannot be read. */
  detect(start: FileStart): Promise<Partial<Reading> | null>;
  /** The sheets to choose from, of formats that have some. */
  sheets?(path: string): Promise<string[]>;
  rows(path: string, reading: Reading, onProgress?: OnProgress): RowBatches;
}

const ZIP = Buffer.from('PK\u0003\u0004');
/** Compound files: spreadsheets before 2007, and later ones with a password. */
const COMPOUND = Buffer.from([0xd0, 0xcf, 0x11, 0xe0]);

/** Every format, in the order in which a file is held against them. */
export const FILE_FORMATS: Record<ImportFormat, FileFormat> = {
  spreadsheet: {
    async detect({ path, fileName, bytes }) {
      if (bytes.subarray(0, 4).equals(COMPOUND))
        throw new ApiError(
          'file-invalid',
          'This is a spreadsheet of the old kind (.xls), or one with a password. Save it as .xlsx and drop that.',
        );
      if (!bytes.subarray(0, 4).equals(ZIP)) return null;
      if (!['.xlsx', '.xlsm'].includes(extname(fileName).toLowerCase()))
        throw new ApiError('file-invalid', 'This is a compressed file that is no spreadsheet. Unpack it and drop what is inside.');
      return { sheet: (await sheetsOf(path))[0] };
    },
    sheets: sheetsOf,
    rows: (path, { sheet }, onProgress) => readSpreadsheet(path, sheet, onProgress),
  },
  json: {
    async detect(start) {
      const { encoding, text } = await start.text();
      return looksLikeJson(text) ? { encoding } : null;
    },
    rows: (path, { encoding }, onProgress) => readJson(path, encoding, onProgress),
  },
  // Any text is that.
  delimited: {
    async detect(start) {
      const { encoding, text } = await start.text();
      return { encoding, delimiter: delimiterOf(text) };
    },
    rows: readDelimited,
  },
};
