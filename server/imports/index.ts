export { ImportThreads } from './import-threads.ts';
export { Imports } from './imports.ts';
export { profiled } from './profiles.ts';
export { widenColumns } from './commit.ts';
export { readSpreadsheet, sheetsOf } from './spreadsheet.ts';
