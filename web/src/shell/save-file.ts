import fileSaver from 'file-saver';
import Papa from 'papaparse';

/** Saves a text as a file, in UTF-8. Signs that no file name may have become spaces. */
export function saveText(name: string, type: string, text: string): void {
  fileSaver.saveAs(new Blob([text], { type: `${type};charset=utf-8` }), name.replaceAll(/[\\/:*?"<>|]/g, ' '));
}

/** Saves rows as CSV (RFC 4180) with a byte order mark; texts that a spreadsheet would run as formulas are written as texts. */
export function saveCsv(name: string, rows: unknown[]): void {
  saveText(name, 'text/csv', `\ufeff${Papa.unparse(rows, { escapeFormulae: true })}\r\n`);
}
