import { type ExportDocument, type ExportPart, type ExportTable } from '@bold-compass/core/exports';
import { STATE_WORDS } from '@bold-compass/core/indicators';
import Papa from 'papaparse';
import { counted, type ExportWriter } from './writer.ts';

/** The tables of a part; a strip of key figures is one too. */
function rowsOf(part: ExportPart): (string | number | null)[][] {
  const plain = (tables: readonly ExportTable[]): (string | number | null)[][] => tables.flatMap((table) => table.plain());
  if (part.kind === 'table') return plain(part.tables);
  if (part.kind === 'chart') return plain([part.table]);
  if (part.kind === 'figures')
    return [['Figure', 'Value', 'State'], ...part.figures.map(({ label, value, state }) => [label, value, STATE_WORDS[state]])];
  return [];
}

/** Rows as CSV (RFC 4180) with a byte order mark; texts that a spreadsheet would run as formulas are written as texts. */
export const csvWriter: ExportWriter = ({ pages }: ExportDocument) => {
  const rows = pages.flatMap(({ parts }) => parts.flatMap(rowsOf));
  const text = `\ufeff${Papa.unparse(rows, { escapeFormulae: true })}\r\n`;
  return Promise.resolve({ bytes: new TextEncoder().encode(text), contents: counted(Math.max(0, rows.length - 1), 'row', 'rows') });
};
