export { ImportCrew } from './crew.ts';
export { datasetFor, firstReport, MOST_PROMPTED, nameFor } from './dataset.ts';
export { IMPORTED, Imports } from './imports.ts';
export { distinctCounts } from './settle.ts';
