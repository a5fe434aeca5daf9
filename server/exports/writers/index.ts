import type { ExportFormatName } from '@bold-compass/core/exports';
import { csvWriter } from './csv.ts';
import { jsonWriter } from './json.ts';
import { pdfWriter } from './pdf/index.ts';
import { slidesWriter } from './slides.ts';
import { spreadsheetWriter } from './spreadsheet.ts';
import type { ExportWriter } from './writer.ts';

/** What writes each format. */
export const EXPORT_WRITERS: Record<ExportFormatName, ExportWriter> = {
  pdf: pdfWriter,
  xlsx: spreadsheetWriter,
  pptx: slidesWriter,
  csv: csvWriter,
  json: jsonWriter,
};
