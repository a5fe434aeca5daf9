export { datasetFor, factFor, firstReport, MOST_PROMPTED, type NamedColumn } from './first-dataset.ts';
export { isMeasured, type ColumnProfile } from './measured.ts';
export { nameFor, namesTaken } from './names.ts';
export { dimensionOver, withFact, type TableColumns } from './tables.ts';
export { widened } from './widen.ts';
export { differenceMeasure, QUICK_MEASURES, quickMeasure, type QuickMeasure } from './quick-measures.ts';
export { largestFirst, outlierRule, paretoMeasure } from './quick-statistics.ts';
export { proposedLook } from './proposed-format.ts';
export { LAYOUTS, startingReport, type LayoutId } from './layouts.ts';
