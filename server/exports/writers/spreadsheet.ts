import { STATE_WORDS, type State } from '@bold-compass/core/indicators';
import type { ChartPart, ExportCell, ExportDocument, ExportLine, ExportTable, FiguresPart, TablePart } from '@bold-compass/core/exports';
import type { NumberFormat } from '@bold-compass/core/model';
import Excel from 'exceljs';
import { counted, sectioned, type ExportWriter } from './writer.ts';

/** The look of the application on white. */
const [INK, QUIET, RULE, BAND, SEA, BAD] = ['FF16242C', 'FF4D5F68', 'FF9AA7A6', 'FFF6F4EE', 'FF0C4A55', 'FFB0392B'];
const STATE_FILLS: Record<State, string> = {
  ...{ ahead: 'FFDDEFE3', on: 'FFDDEFE3', drifting: 'FFF8ECD2', off: 'FFF6DDD9', far: 'FFF6DDD9', none: 'FFEEEEEE' },
};
/** Colours that rules give figures. */
const TONES = {
  ...{ on: 'FF18684A', drift: 'FF8A5509', off: 'FFA5332A', sea: 'FF0E4F5C', brass: 'FF8A5509', quiet: QUIET },
} as const satisfies Record<NonNullable<NonNullable<ExportCell['marks']>['rule']>['tone'], string>;
const FONT = { name: 'Source Sans 3', size: 10, color: { argb: INK } };
const bold = { ...FONT, bold: true };
const quiet = { ...FONT, color: { argb: QUIET } };

/** A name for a sheet: at most 31 signs, none of those that the format refuses, and each once, whatever the case (ECMA-376, 18.2.19). */
export function sheetName(title: string, taken: Set<string>): string {
  // A quotation mark may not stand at either end, wherever the name is cut.
  const cut = (words: string, most: number): string => words.slice(0, most).replaceAll(/^[' ]+|[' ]+$|[\uD800-\uDBFF]$/g, '');
  const plain = title.replaceAll(/[\p{Cc}[\]:*?/\\]+/gu, ' ').replaceAll(/\s+/g, ' ');
  for (let number = 1; ; number++) {
    const ending = number === 1 ? '' : ` ${number}`;
    const name = `${cut(cut(plain, plain.length), 31 - ending.length) || 'Sheet'}${ending}`;
    if (!taken.has(name.toLowerCase())) {
      taken.add(name.toLowerCase());
      return name;
    }
  }
}

/** How a spreadsheet writes figures that are kept in full: the unit divides what is shown, not what is there (ECMA-376, 18.8.31). */
export function formatCode({ kind, decimals, unit }: NumberFormat): string {
  if (kind === 'duration') return '[h]:mm:ss';
  const places = decimals > 0 ? `.${'0'.repeat(decimals)}` : '';
  if (kind === 'percent') return `0${places}%`;
  return `#,##0${places}${{ one: '', thousand: ',', million: ',,' }[unit]}`;
}

const SECONDS_A_DAY = 86_400;
/** ECMA-376, 18.4.12. */
const LONGEST = 32_767;
/** A text as these formats hold it: without control signs that XML has no place for, and no longer than a cell takes. */
export const plainText = (words: string): string =>
  words.replaceAll(/[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]/g, '\uFFFD').slice(0, LONGEST);

const isDate = (value: string): boolean => /^\d{4}-\d{2}-\d{2}$/.test(value);

/** A value as a cell holds it: numbers and dates as what they are, anything else as text. */
function valueOf({ value, format }: ExportCell, type: string): Excel.CellValue {
  if (value === null) return null;
  if (typeof value === 'number') return format?.kind === 'duration' ? value / SECONDS_A_DAY : value;
  return type === 'date' && isDate(value) ? new Date(`${value}T00:00:00Z`) : plainText(value);
}

/** How deep rows can lie among each other (ECMA-376, 18.3.1.73). */
const DEEPEST = 7;

/** Where the figures of a table lie on its sheet. */
interface Placed {
  /** Rows of a measure, from and to, by column. */
  from: number;
  to: number;
}

/** Writes a table below what stands on a sheet. */
function putTable(sheet: Excel.Worksheet, table: ExportTable): Placed {
  const labels = table.labels.length;
  if (table.caption !== '') sheet.addRow([plainText(table.caption)]).font = bold;
  if (table.unit !== '') sheet.addRow([plainText(table.unit)]).font = quiet;
  table.head.forEach((level, depth) => {
    const isLast = depth === table.head.length - 1;
    const row = sheet.addRow(isLast ? table.labels.map(plainText) : []);
    row.font = bold;
    for (const { text: words, from, count } of level) {
      const cell = row.getCell(labels + from + 1);
      cell.value = plainText(words);
      cell.alignment = { horizontal: count > 1 ? 'center' : table.columns[from]?.type === 'number' ? 'right' : 'left', wrapText: true };
      if (count > 1) sheet.mergeCells(row.number, labels + from + 1, row.number, labels + from + count);
    }
    if (isLast) row.eachCell({ includeEmpty: true }, (cell) => (cell.border = { bottom: { style: 'medium', color: { argb: INK } } }));
  });
  const first = sheet.rowCount + 1;
  for (const line of table.lines) putLine(sheet, table, line);
  for (const words of table.legend) sheet.addRow([plainText(words)]).font = quiet;
  return { from: first, to: first + table.lines.length - 1 };
}

/** What a cell of a line looks like. */
interface CellLook {
  strong: boolean;
  align: 'left' | 'right';
  indent: number;
  code: string;
  fill: string;
  /** Of its letters; those of the line where it is empty. */
  colour: string;
  above: 'thin' | 'hair' | '';
}

const solid = (argb: string): Excel.Fill => ({ type: 'pattern', pattern: 'solid', fgColor: { argb } });
/** Each look once: the library knows a style that it has seen by the object that it is. */
const looks = new Map<string, Partial<Excel.Style>>();
function styleOf({ strong, align, indent, code, fill, colour, above }: CellLook): Partial<Excel.Style> {
  const key = `${strong} ${align} ${indent} ${fill} ${colour} ${above} ${code}`;
  let style = looks.get(key);
  if (!style) {
    const font = strong ? bold : FONT;
    style = {
      font: colour === '' ? font : { ...font, color: { argb: colour } },
      alignment: { horizontal: align, ...(indent > 0 ? { indent } : {}) },
      ...(code === '' ? {} : { numFmt: code }),
      ...(fill === '' ? {} : { fill: solid(fill) }),
      ...(above === '' ? {} : { border: { top: { style: above, color: { argb: above === 'thin' ? INK : RULE } } } }),
    };
    looks.set(key, style);
  }
  return style;
}

function putLine(sheet: Excel.Worksheet, { labels, columns }: ExportTable, line: ExportLine): void {
  const row = sheet.addRow([...line.labels.map(plainText), ...line.cells.map((own, at) => valueOf(own, columns[at]?.type ?? 'number'))]);
  if (line.depth > 0) row.outlineLevel = Math.min(DEEPEST, line.depth);
  const above = line.role === 'total' ? 'thin' : line.startsGroup ? 'hair' : '';
  const common = { strong: line.strong, above, fill: line.band ? BAND : '', code: '', colour: '', indent: 0, align: 'left' } as const;
  line.labels.forEach((_, at) => (row.getCell(at + 1).style = styleOf({ ...common, indent: at === 0 ? line.indent : 0 })));
  line.cells.forEach(({ value, format, state, warns, marks }, at) => {
    const isDay = columns[at]?.type === 'date' && typeof value === 'string' && isDate(value);
    row.getCell(labels.length + at + 1).style = styleOf({
      ...common,
      align: typeof value === 'number' ? 'right' : 'left',
      code: format ? formatCode(format) : isDay ? 'dd/mm/yyyy' : '',
      fill: state && state !== 'none' ? STATE_FILLS[state] : common.fill,
      colour: marks?.rule ? TONES[marks.rule.tone] : warns ? BAD : '',
      strong: line.strong || marks?.rule?.look === 'strong',
    });
  });
}

/** Bars in cells, as the format has them: from zero, in the colour of the first series. */
function putBars(sheet: Excel.Worksheet, table: ExportTable, { from, to }: Placed): void {
  table.columns.forEach((_, at) => {
    if (!table.lines.some(({ cells }) => cells[at]?.marks?.bar)) return;
    const letter = sheet.getColumn(table.labels.length + at + 1).letter;
    sheet.addConditionalFormatting({
      ref: `${letter}${from}:${letter}${to}`,
      rules: [{ type: 'dataBar', priority: 1, cfvo: [{ type: 'min' }, { type: 'max' }], color: { argb: SEA }, gradient: false } as never],
    });
  });
}

/** Signs that a column is wide. */
const [NARROWEST, WIDEST, WIDEST_LABEL] = [9, 40, 60];
function fitColumns(sheet: Excel.Worksheet, tables: readonly ExportTable[]): void {
  for (const { labels, lines, columns } of tables) {
    labels.forEach((label, at) => {
      const longest = lines.reduce((most, line) => Math.max(most, (line.labels[at] ?? '').length + line.indent * 2), label.length);
      const column = sheet.getColumn(at + 1);
      column.width = Math.max(column.width ?? 0, Math.min(WIDEST_LABEL, longest + 3));
    });
    columns.forEach(({ heading }, at) => {
      const longest = lines.reduce((most, { cells }) => Math.max(most, cells[at]?.text.length ?? 0), Math.min(18, heading.length));
      const column = sheet.getColumn(labels.length + at + 1);
      column.width = Math.max(column.width ?? 0, Math.min(WIDEST, Math.max(NARROWEST, longest + 3)));
    });
  }
}

function titled(sheet: Excel.Worksheet, part: Pick<TablePart, 'title' | 'section' | 'number' | 'note'>, scope: string): void {
  const { number, note } = part;
  sheet.addRow([plainText(sectioned(part))]).font = { ...bold, size: 14 };
  sheet.addRow([plainText([number > 0 ? `Exhibit ${number}` : '', scope].filter((words) => words !== '').join(' · '))]).font = quiet;
  if (note !== '') sheet.addRow([plainText(note)]).font = quiet;
  sheet.addRow([]);
}

/** Freezes what stands over and before the figures of the first table. */
function freeze(sheet: Excel.Worksheet, table: ExportTable, { from }: Placed): void {
  sheet.views = [{ state: 'frozen', xSplit: Math.min(table.labels.length, 6), ySplit: from - 1, showGridLines: false }];
  sheet.properties.outlineProperties = { summaryBelow: false, summaryRight: false };
  sheet.pageSetup = {
    orientation: 'landscape',
    fitToPage: true,
    fitToWidth: 1,
    fitToHeight: 0,
    printTitlesRow: `${Math.max(1, from - table.head.length)}:${from - 1}`,
  };
}

function putTables(book: Excel.Workbook, name: string, part: TablePart | ChartPart, scope: string): void {
  const sheet = book.addWorksheet(name);
  titled(sheet, part, scope);
  const tables = part.kind === 'table' ? part.tables : [part.table];
  for (const sentence of part.kind === 'table' ? part.sentences : [part.words, ...part.notes])
    sheet.addRow([plainText(sentence)]).font = FONT;
  if (part.kind === 'chart' || part.sentences.length > 0) sheet.addRow([]);
  tables.forEach((table, at) => {
    if (at > 0) sheet.addRow([]);
    const placed = putTable(sheet, table);
    if (table.lines.length > 0) putBars(sheet, table, placed);
    if (at === 0) freeze(sheet, table, placed);
  });
  fitColumns(sheet, tables);
}

function putFigures(book: Excel.Workbook, name: string, part: FiguresPart, scope: string): void {
  const sheet = book.addWorksheet(name);
  titled(sheet, part, scope);
  const head = sheet.addRow(['Figure', 'Value', 'State', '']);
  head.font = bold;
  for (const { label, value, format, state, words } of part.figures) {
    const row = sheet.addRow([plainText(label), value, STATE_WORDS[state], plainText(words)]);
    row.font = FONT;
    row.getCell(2).numFmt = formatCode(format);
    if (state !== 'none') row.getCell(3).fill = { type: 'pattern', pattern: 'solid', fgColor: { argb: STATE_FILLS[state] } };
  }
  [34, 16, 18, 44].forEach((width, at) => (sheet.getColumn(at + 1).width = width));
  sheet.views = [{ showGridLines: false }];
}

/** What the sheets are of: scope, filters, where the figures come from and how they are calculated. */
function putAbout(sheet: Excel.Worksheet, document: ExportDocument): void {
  const line = (label: string, words: string): void => {
    if (words === '') return;
    const row = sheet.addRow([label, plainText(words)]);
    row.getCell(1).font = quiet;
    row.getCell(2).font = FONT;
    row.getCell(2).alignment = { wrapText: true, vertical: 'top' };
    row.getCell(1).alignment = { vertical: 'top' };
  };
  sheet.addRow([plainText(document.title)]).font = { ...bold, size: 16 };
  sheet.addRow([plainText(document.subtitle)]).font = quiet;
  line('Shows', document.scope);
  line('Data as of', document.dataAsOf);
  line('Edition', document.edition);
  line('Made for', document.access === '' ? document.madeFor : `${document.madeFor}, who sees: ${document.access}`);
  line('Made', document.madeAt.replace('T', ' ').replace(/\.\d+Z$/, ' UTC'));
  line('Note', document.note);
  if (document.measures.length > 0) {
    sheet.addRow([]);
    sheet.addRow(['Measure', 'How it is calculated']).font = bold;
    for (const { label, formula, description } of document.measures)
      line(label, [description, formula].filter((words) => words !== '').join(' — '));
  }
  sheet.getColumn(1).width = 26;
  sheet.getColumn(2).width = 90;
  sheet.views = [{ showGridLines: false }];
}

/** A workbook with a sheet for each exhibit, after one that says what they are of (ECMA-376, Office Open XML). */
export const spreadsheetWriter: ExportWriter = async (document, { progress }) => {
  const book = new Excel.Workbook();
  book.creator = document.madeFor;
  book.title = document.title;
  book.created = new Date(document.madeAt);
  const taken = new Set<string>();
  putAbout(book.addWorksheet(sheetName('About', taken)), document);
  const parts = document.pages.flatMap((page) => page.parts);
  parts.forEach((part, at) => {
    if (part.kind === 'figures') putFigures(book, sheetName(`${part.section} ${part.title}`.trim(), taken), part, document.scope);
    else if (part.kind === 'table' || part.kind === 'chart')
      putTables(book, sheetName(`${part.section} ${part.title}`.trim(), taken), part, document.scope);
    progress((at + 1) / (parts.length + 1));
  });
  const bytes = new Uint8Array(await book.xlsx.writeBuffer());
  return { bytes, contents: counted(book.worksheets.length, 'sheet', 'sheets') };
};
