import { z } from 'zod';
import { IMPORT_FORMATS, type ImportFormat } from './formats.ts';

/** How a file is read into rows of cells: what was found in it, each part changeable. */
export const readingSchema = z.object({
  format: z.enum(Object.keys(IMPORT_FORMATS) as [ImportFormat, ...ImportFormat[]]),
  /** Between the cells of a delimited file. */
  delimiter: z.enum([',', ';', '\t', '|']),
  /** Of a delimited or JSON file, by its WHATWG name. Latin-1 is read as Windows-1252, which contains it. */
  encoding: z.enum(['utf-8', 'utf-16le', 'utf-16be', 'windows-1252']),
  /** Row of the names, counted from 1; 0 where the file has none. */
  headerRow: z.number().int().min(0).max(100),
  /** Sheet of a spreadsheet. */
  sheet: z.string(),
  /** The sign before decimals; the other of the two may group thousands. */
  decimalSign: z.enum(['.', ',']),
  /** Order of year, month and day in dates. Year first is ISO 8601. */
  dateOrder: z.enum(['ymd', 'dmy', 'mdy']),
  /** Words that may stand for "no value", besides the empty cell. */
  emptyWords: z.array(z.string().trim().min(1).max(30)).max(20),
});
export type Reading = z.infer<typeof readingSchema>;

/** Words that files use for "no value" (common practice, no source). */
export const EMPTY_WORDS = ['NA', 'N/A', 'n/a', '#N/A', 'NULL', 'null', 'None', 'NaN', '-', '–', '?'];

export const DEFAULT_READING: Reading = {
  format: 'delimited',
  delimiter: ',',
  encoding: 'utf-8',
  headerRow: 1,
  sheet: '',
  decimalSign: '.',
  dateOrder: 'ymd',
  emptyWords: EMPTY_WORDS,
};
