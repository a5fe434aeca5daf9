import type { Readable } from 'node:stream';
import { isoDate, parseIsoDate } from '@bold-compass/core/calendar';
import { numberCell } from '@bold-compass/core/imports';
import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { ApiError } from '../problems/index.ts';
import type { OnProgress, Row, RowBatches } from './row.ts';

/**
 * Reads Office Open XML workbooks (ECMA-376 part 1, SpreadsheetML) as a stream: values only. A formula's cell gives the
 * value it was saved with.
 */

/** A sheet may unpack to this much; a few kilobytes can be made to unpack to far more. */
const MOST_UNPACKED = 1.5 * 1024 * 1024 * 1024;
const MOST_SHARED_TEXT = 200 * 1024 * 1024;

const invalid = (message: string): ApiError => new ApiError('file-invalid', message);
const broken = (): ApiError =>
  invalid('This spreadsheet cannot be read: the file is damaged or cut off. Save it again and drop it once more.');

interface Workbook {
  zip: ZipFile;
  entries: Map<string, Entry>;
  sheets: { name: string; path: string }[];
  date1904: boolean;
}

async function* xmlText(zip: ZipFile, entry: Entry, most: number): AsyncGenerator<string> {
  if (entry.uncompressedSize > most)
    throw invalid('This spreadsheet unpacks to more than can be read. Split it, or save the sheet as CSV.');
  const decoder = new TextDecoder('utf-8');
  const stream = (await zip.openReadStreamPromise(entry)) as Readable;
  let read = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    read += chunk.length;
    if (read > most) throw invalid('This spreadsheet unpacks to more than can be read. Split it, or save the sheet as CSV.');
    yield decoder.decode(chunk, { stream: true });
  }
}

interface Handlers {
  open?(tag: SaxesTagPlain): void;
  text?(text: string): void;
  close?(name: string): void;
}

const localName = (name: string): string => name.slice(name.indexOf(':') + 1);

function parserFor({ open, text, close }: Handlers): SaxesParser {
  const parser = new SaxesParser();
  parser.on('error', (error) => {
    throw error;
  });
  if (open) parser.on('opentag', (tag) => open(tag));
  if (text) parser.on('text', text);
  if (close) parser.on('closetag', ({ name }) => close(localName(name)));
  return parser;
}

async function parseAll(book: Pick<Workbook, 'zip' | 'entries'>, path: string, handlers: Handlers): Promise<boolean> {
  const entry = book.entries.get(path);
  if (!entry) return false;
  const parser = parserFor(handlers);
  for await (const text of xmlText(book.zip, entry, MOST_SHARED_TEXT)) parser.write(text);
  parser.close();
  return true;
}

async function openWorkbook(path: string): Promise<Workbook> {
  let zip: ZipFile;
  const entries = new Map<string, Entry>();
  try {
    zip = await openPromise(path, { lazyEntries: true, autoClose: false });
    for await (const entry of zip.eachEntry()) entries.set(entry.fileName, entry);
  } catch {
    throw broken();
  }
  const book: Workbook = { zip, entries, sheets: [], date1904: false };
  try {
    const targets = new Map<string, string>();
    await parseAll(book, 'xl/_rels/workbook.xml.rels', {
      open: ({ attributes }) => attributes.Id && targets.set(attributes.Id, attributes.Target),
    });
    const found = await parseAll(book, 'xl/workbook.xml', {
      open({ name, attributes }) {
        if (localName(name) === 'workbookPr') book.date1904 = ['1', 'true'].includes(attributes.date1904 ?? '');
        if (localName(name) !== 'sheet') return;
        const id = Object.entries(attributes).find(([key]) => localName(key) === 'id')?.[1] ?? '';
        const target = targets.get(id);
        if (target) book.sheets.push({ name: attributes.name, path: target.startsWith('/') ? target.slice(1) : `xl/${target}` });
      },
    });
    if (!found || book.sheets.length === 0) throw invalid('There is no sheet in this file. Is it a spreadsheet (.xlsx)?');
    return book;
  } catch (error) {
    zip.close();
    throw error instanceof ApiError ? error : broken();
  }
}

/** The names of a workbook's sheets, in order. Throws ApiError `file-invalid`. */
export async function sheetsOf(path: string): Promise<string[]> {
  const book = await openWorkbook(path);
  book.zip.close();
  return book.sheets.map(({ name }) => name);
}

async function sharedTexts(book: Workbook): Promise<string[]> {
  const texts: string[] = [];
  let current = '';
  let reading = false;
  let phonetic = false;
  await parseAll(book, 'xl/sharedStrings.xml', {
    open({ name }) {
      const tag = localName(name);
      if (tag === 'si') current = '';
      else if (tag === 't') reading = true;
      else if (tag === 'rPh') phonetic = true;
    },
    text: (text) => {
      if (reading && !phonetic) current += text;
    },
    close(name) {
      if (name === 'si') texts.push(current);
      else if (name === 't') reading = false;
      else if (name === 'rPh') phonetic = false;
    },
  });
  return texts;
}

/** Built-in number formats that show a date or a time (ECMA-376 part 1, 18.8.30). */
const isDateFormatId = (id: number): boolean =>
  (id >= 14 && id <= 22) || (id >= 27 && id <= 36) || (id >= 45 && id <= 47) || (id >= 50 && id <= 58);

/** Whether a format code shows a date: year, month or day letters outside quotes, brackets and escapes. */
function isDateFormat(code: string): boolean {
  const bare = code.replaceAll(/"[^"]*"|\[(?!h+\]|m+\]|s+\])[^\]]*\]|\\./gi, '').split(';')[0];
  return /[ymdhs]/i.test(bare) && !/general/i.test(bare);
}

/** How a cell shows its number: as a date, or as a code of a fixed number of digits. */
interface NumberStyle {
  date: boolean;
  /** The format of a code such as `00000` or `000-00-0000`; null for others. */
  code: string | null;
}

/** A format code of nothing but digits that are always shown, and what stands between them; null for others. */
function codeFormat(format: string): string | null {
  const plain = format.split(';')[0].replaceAll(/"([^"]*)"|\\(.)/g, (_match, quoted?: string, escaped?: string) => quoted ?? escaped ?? '');
  return /^[^0#?.,%eE@*_]*0[0 /()-]*0[^0#?.,%eE@*_]*$/.test(plain) ? plain : null;
}

/** A whole number in a format of a code: its digits from the right, zeros before them, the other signs between. */
function inCodeFormat(digits: string, format: string): string {
  let left = digits;
  let text = '';
  const first = format.indexOf('0');
  for (let at = format.length - 1; at >= 0; at--) {
    if (format[at] !== '0') text = format[at] + text;
    else {
      const taken = at === first ? left : left.slice(-1);
      text = (taken || '0') + text;
      left = at === first ? '' : left.slice(0, -1);
    }
  }
  return text;
}

/** For each cell style, how it shows its number. */
async function numberStyles(book: Workbook): Promise<NumberStyle[]> {
  const codes = new Map<number, string>();
  const styles: NumberStyle[] = [];
  let inside = false;
  await parseAll(book, 'xl/styles.xml', {
    open({ name, attributes }) {
      const tag = localName(name);
      if (tag === 'numFmt') codes.set(Number(attributes.numFmtId), attributes.formatCode);
      else if (tag === 'cellXfs') inside = true;
      else if (tag === 'xf' && inside) {
        const id = Number(attributes.numFmtId ?? 0);
        const code = codes.get(id);
        styles.push({
          date: code === undefined ? isDateFormatId(id) : isDateFormat(code),
          code: code === undefined ? null : codeFormat(code),
        });
      }
    },
    close: (name) => {
      if (name === 'cellXfs') inside = false;
    },
  });
  return styles;
}

const EPOCH_1900 = parseIsoDate('1899-12-30')!;
const EPOCH_1904 = parseIsoDate('1904-01-01')!;
const DAY_SECONDS = 86_400;

/**
 * A serial number as a date, a date with time, or a time of day. In the 1900 system day 60 is 29 February 1900, which
 * never was; days before it count from one day later.
 */
function serialText(serial: number, date1904: boolean): string {
  let day = Math.floor(serial);
  let seconds = Math.round((serial - day) * DAY_SECONDS);
  if (seconds === DAY_SECONDS) {
    day++;
    seconds = 0;
  }
  const two = (value: number): string => String(value).padStart(2, '0');
  const time = `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}`;
  if (day === 0 && seconds > 0) return time;
  const date = date1904 ? isoDate(EPOCH_1904 + day) : isoDate(EPOCH_1900 + day + (day < 60 ? 1 : 0));
  return seconds === 0 ? date : `${date} ${time}`;
}

/**
 * A number as it is written in a sheet: doubles are shown to 15 digits, so that 0.1 + 0.2 reads 0.3; whole numbers with
 * all of theirs, since a long one is an identifier.
 */
function numberText(raw: string): string {
  if (/^-?\d+$/.test(raw)) return raw.replace(/^(-?)0+(?=\d)/, '$1');
  const value = Number(raw);
  if (!Number.isFinite(value)) return raw;
  if (Number.isInteger(value) && Math.abs(value) < 1e30) return BigInt(value).toString();
  return String(Number(value.toPrecision(15)));
}

/** "BC12" to 54: the column of a cell, counted from 0. */
function columnOf(reference: string): number {
  let column = 0;
  for (const letter of reference) {
    const value = letter.charCodeAt(0) - 64;
    if (value < 1 || value > 26) break;
    column = column * 26 + value;
  }
  return column - 1;
}

/** Reads one sheet, empty rows and trailing empty cells left out. Throws ApiError `file-invalid`. */
export async function* readSpreadsheet(path: string, sheet: string, onProgress?: OnProgress): RowBatches {
  const book = await openWorkbook(path);
  try {
    const chosen = book.sheets.find(({ name }) => name === sheet);
    const entry = chosen && book.entries.get(chosen.path);
    if (!entry) throw invalid(`There is no sheet called "${sheet}" in this file. Choose one of its sheets at the left.`);
    const [texts, styles] = [await sharedTexts(book), await numberStyles(book)];
    let rows: Row[] = [];
    let cells: string[] = [];
    let number = 0;
    let column = -1;
    let type = '';
    let style = 0;
    let value = '';
    let reading = false;
    const finishCell = (): void => {
      const text = cellText(type, value, styles[style], texts, book.date1904);
      while (cells.length < column) cells.push('');
      cells[column] = text;
    };
    const parser = parserFor({
      open({ name, attributes }) {
        const tag = localName(name);
        if (tag === 'row') {
          number = attributes.r ? Number(attributes.r) : number + 1;
          cells = [];
          column = -1;
        } else if (tag === 'c') {
          column = attributes.r ? columnOf(attributes.r) : column + 1;
          if (column > 16_383) throw broken();
          type = attributes.t ?? 'n';
          style = Number(attributes.s ?? 0);
          value = '';
        } else if (tag === 'v' || tag === 't') reading = true;
      },
      text: (text) => {
        if (reading) value += text;
      },
      close(name) {
        if (name === 'v' || name === 't') reading = false;
        else if (name === 'c') finishCell();
        else if (name === 'row' && cells.some((cell) => cell !== '')) {
          rows.push({ row: number, cells });
        }
      },
    });
    let seen = 0;
    for await (const text of xmlText(book.zip, entry, MOST_UNPACKED)) {
      parser.write(text);
      seen += text.length;
      onProgress?.(Math.min(1, seen / entry.uncompressedSize));
      if (rows.length > 500) {
        yield rows;
        rows = [];
      }
    }
    parser.close();
    if (rows.length > 0) yield rows;
  } catch (error) {
    throw error instanceof ApiError ? error : broken();
  } finally {
    book.zip.close();
  }
}

function cellText(type: string, value: string, style: NumberStyle | undefined, texts: string[], date1904: boolean): string {
  switch (type) {
    case 's':
      return texts[Number(value)] ?? '';
    case 'b':
      return value === '1' ? 'true' : 'false';
    case 'd':
      return value.replace('T', ' ').replace(/ 00:00:00(\.0+)?Z?$/, '');
    case 'n':
      if (value === '') return '';
      if (style?.date) return serialText(Number(value), date1904);
      return style?.code && /^\d+$/.test(numberText(value)) ? inCodeFormat(numberText(value), style.code) : numberCell(numberText(value));
    default:
      return value;
  }
}
