export { canToggle, headLevels, measureSpans, segmentHeader, type HeadSegment, type MeasureSpan } from './column-headings.ts';
export { type CellMarks } from './cell-marks.ts';
export { crosstabLegend, type LegendLine } from './legend.ts';
export {
  cellsOf,
  CrosstabTable,
  markIn,
  type CrosstabCells,
  type ShownValue,
  type TableCell,
  type TableLine,
  type TableMeasure,
} from './crosstab-table.ts';
export { openSteps, summaryWords, SUMMARY_WORDS, type Headings, type OpenStep } from './headings.ts';
export { canChoose, samePath } from './lines.ts';
export {
  listColumns,
  listLine,
  listState,
  totalText,
  type ListCell,
  type ListLine,
  type RecordValue,
  type TableColumn,
} from './list-table.ts';
export { type RowLabel } from './row-labels.ts';
export { crosstabHeading, crosstabRows, listHeading, listRows, listTotals, type PlainValue } from './plain-rows.ts';
