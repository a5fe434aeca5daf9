import type { PageSetup, PaperName } from '../model/index.ts';

/** What an export may hold at most, and how it is offered. */
interface ExportFormat {
  label: string;
  note: string;
  extension: string;
  mediaType: string;
  /** All that is shown, or one exhibit with rows. */
  carries: 'report' | 'table';
  /** Cells of all tables together. */
  mostCells: number;
  /** Whether it is laid out as pages of some size. */
  isPaged: boolean;
}

/** Every format that a report leaves the application in. */
export const EXPORT_FORMATS = {
  pdf: {
    label: 'PDF',
    note: 'Pages to print, mail or file',
    ...{ extension: 'pdf', mediaType: 'application/pdf' },
    ...{ carries: 'report', mostCells: 200_000, isPaged: true },
  },
  xlsx: {
    label: 'Spreadsheet (XLSX)',
    note: 'Figures to go on working with; toggles become outline levels, a sheet for each exhibit',
    ...{ extension: 'xlsx', mediaType: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet' },
    ...{ carries: 'report', mostCells: 500_000, isPaged: false },
  },
  pptx: {
    label: 'Slides (PPTX)',
    note: 'A slide for each exhibit; tables and charts can be edited there',
    ...{ extension: 'pptx', mediaType: 'application/vnd.openxmlformats-officedocument.presentationml.presentation' },
    ...{ carries: 'report', mostCells: 50_000, isPaged: false },
  },
  csv: {
    label: 'CSV',
    note: 'The rows of one exhibit, for other programs',
    ...{ extension: 'csv', mediaType: 'text/csv; charset=utf-8' },
    ...{ carries: 'table', mostCells: 4_000_000, isPaged: false },
  },
  json: {
    label: 'JSON',
    note: 'All figures with their names, for other programs',
    ...{ extension: 'json', mediaType: 'application/json' },
    ...{ carries: 'report', mostCells: 1_000_000, isPaged: false },
  },
} as const satisfies Record<string, ExportFormat>;

export type ExportFormatName = keyof typeof EXPORT_FORMATS;
export const EXPORT_FORMAT_NAMES = Object.keys(EXPORT_FORMATS) as [ExportFormatName, ...ExportFormatName[]];

/** How a format is offered and what it can hold. */
export const exportFormat = (name: ExportFormatName): ExportFormat => EXPORT_FORMATS[name];

/** Sizes of paper, in points of 1/72 inch, upright: ISO 216 A4 and A3, US Letter, and a slide of 16 by 9. */
export const PAPERS = {
  a4: { label: 'A4', width: 595.28, height: 841.89 },
  a3: { label: 'A3', width: 841.89, height: 1190.55 },
  letter: { label: 'Letter', width: 612, height: 792 },
  slide: { label: 'Slide 16:9', width: 540, height: 960 },
} as const satisfies Record<PaperName, { label: string; width: number; height: number }>;

/** Margins around a page, in points. */
export const MARGINS = {
  narrow: { label: 'Narrow, 10 mm', points: 28.35 },
  normal: { label: 'Normal, 15 mm', points: 42.52 },
  wide: { label: 'Wide, 25 mm', points: 70.87 },
} as const satisfies Record<PageSetup['margins'], { label: string; points: number }>;

/** A file name without what some systems refuse in one, at most 80 signs long; `fallback` where nothing is left. */
export function fileName(title: string, extension: string, fallback = 'Report'): string {
  const words = title
    .normalize('NFC')
    .replaceAll(/[\p{Cc}\p{Cf}\p{Zl}\p{Zp}/\\:*?"<>|]+/gu, ' ')
    .replaceAll(/\s+/g, ' ')
    .replace(/^[ .]+|[ .]+$/g, '');
  return `${[...words].slice(0, 80).join('').trim() || fallback}.${extension}`;
}
