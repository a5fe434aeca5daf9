export {
  exportRequestSchema,
  exportSchema,
  printedPagesSchema,
  type Export,
  type ExportRequest,
  type PaperPage,
  type PrintedPages,
} from './contracts.ts';
export { EXPORT_FORMATS, EXPORT_FORMAT_NAMES, exportFormat, fileName, MARGINS, PAPERS, type ExportFormatName } from './formats.ts';
export {
  cellsIn,
  groupStarts,
  type ChartPart,
  type ExportCell,
  type ExportDocument,
  type ExportFigure,
  type ExportHeading,
  type ExportLine,
  type ExportMeasure,
  type ExportPage,
  type ExportPart,
  type ExportTable,
  type FiguresPart,
  type TablePart,
} from './document.ts';
export { exportedKind, type AskedForExport, type ExportedKind } from './kinds.ts';
export { pagesOfRows, partsOfColumns, type PagedRow, type RowRange } from './paginate.ts';
export { type ExportLook } from './crosstab-export.ts';
