import fileSaver from 'file-saver';
import Papa from 'papaparse';

/** Saves a file. Signs that no file name may have become spaces. */
export const saveBlob = (name: string, blob: Blob): void => fileSaver.saveAs(blob, name.replaceAll(/[\\/:*?"<>|]/g, ' '));

/** Saves a text as a file, in UTF-8. */
export const saveText = (name: string, type: string, text: string): void =>
  saveBlob(name, new Blob([text], { type: `${type};charset=utf-8` }));

/** Saves rows as CSV (RFC 4180) with a byte order mark; texts that a spreadsheet would run as formulas are written as texts. */
export function saveCsv(name: string, rows: unknown[]): void {
  saveText(name, 'text/csv', `\ufeff${Papa.unparse(rows, { escapeFormulae: true })}\r\n`);
}
