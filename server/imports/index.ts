export { ImportCrew } from './crew.ts';
export { IMPORTED, Imports } from './imports.ts';
export { distinctCounts } from './settle.ts';
