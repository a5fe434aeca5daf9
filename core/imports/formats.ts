/** What there is to know of a format of files before it is read. */
interface ImportFormatTraits {
  label: string;
  /** What can be changed of how such a file is read. */
  settings: readonly ('delimiter' | 'encoding' | 'sheet' | 'headerRow')[];
  /** Whether its records bring the names of their fields, so that there is no row of names to look for. */
  namesInRecords: boolean;
  /** Whether some of its cells are known as numbers, rather than texts that look like them. */
  knowsNumbers: boolean;
  /** Whether empty cells at the end of a row are left out: they are not missing. */
  leavesOutEnds: boolean;
}

/** Every format that files are brought in from. What reads each is in `server/imports/formats.ts`. */
export const IMPORT_FORMATS = {
  delimited: {
    ...{ label: 'Delimited text', settings: ['delimiter', 'encoding', 'headerRow'] },
    ...{ namesInRecords: false, knowsNumbers: false, leavesOutEnds: false },
  },
  spreadsheet: {
    ...{ label: 'Spreadsheet', settings: ['sheet', 'headerRow'] },
    ...{ namesInRecords: false, knowsNumbers: true, leavesOutEnds: true },
  },
  json: {
    ...{ label: 'JSON records', settings: ['encoding'] },
    ...{ namesInRecords: true, knowsNumbers: true, leavesOutEnds: false },
  },
} satisfies Record<string, ImportFormatTraits>;

export type ImportFormat = keyof typeof IMPORT_FORMATS;

export const importFormat = (name: ImportFormat): ImportFormatTraits => IMPORT_FORMATS[name];
