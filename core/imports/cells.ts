import { isoDate, parseIsoDate } from '../calendar/index.ts';
import type { ColumnType } from '../model/index.ts';
import type { Reading } from './reading.ts';

/** What a text can be read as. A cell may fit several: 03/04/2026 is a date in two orders. */
export const SHAPES = [
  'integer.',
  'integer,',
  'decimal.',
  'decimal,',
  'date ymd',
  'date dmy',
  'date mdy',
  'datetime ymd',
  'datetime dmy',
  'datetime mdy',
  'boolean',
] as const;
export type Shape = (typeof SHAPES)[number];

/** Ways of writing numbers and dates. */
export type Notation = Pick<Reading, 'decimalSign' | 'dateOrder'>;

/** The shape that a cell must have to be of a type; undefined for texts, which every cell is. */
export function shapeFor(type: ColumnType, { decimalSign, dateOrder }: Notation): Shape | undefined {
  switch (type) {
    case 'text':
      return undefined;
    case 'integer':
    case 'decimal':
      return `${type}${decimalSign}`;
    case 'date':
    case 'datetime':
      return `${type} ${dateOrder}`;
    case 'boolean':
      return 'boolean';
  }
}

/** Most digits that a number may have, decimal places among them, so that it stays exact as a double of scaled units. */
export const MOST_DIGITS = 15;
/** Numbers longer than this are texts of digits. */
const LONGEST_NUMBER = 40;
const NUMBER: Record<'.' | ',', RegExp> = {
  '.': /^[+\-−]?(?:\d+|\d{1,3}(?:[,\u00a0\u202f' ]\d{3})+)?(?:\.(\d*))?(?:[eE]([+-]?\d{1,2}))?$/,
  ',': /^[+\-−]?(?:\d+|\d{1,3}(?:[.\u00a0\u202f' ]\d{3})+)?(?:,(\d*))?(?:[eE]([+-]?\d{1,2}))?$/,
};
const GROUPING: Record<'.' | ',', RegExp> = { '.': /[,\u00a0\u202f' ]/g, ',': /[.\u00a0\u202f' ]/g };

/**
 * Formats that have numbers (spreadsheets, JSON) say which cells are some: their decimals are no matter of notation. Such a
 * cell begins with this sign, which no text of these formats does, until it is written in the notation of its file.
 */
const NUMBER_SIGN = '\u0001';

/** A number of a format that has numbers, in plain notation; whole numbers read alike in every notation. */
export const numberCell = (plain: string): string => (/^[+-]?\d+$/.test(plain) ? plain : NUMBER_SIGN + plain);
/** A text of a format that has numbers. */
export const textCell = (text: string): string => (text.startsWith(NUMBER_SIGN) ? text.replaceAll(NUMBER_SIGN, '') : text);
/** A cell as its file would write it: a number that is known as one with the file's decimal sign. */
export function writtenCell(cell: string, sign: '.' | ','): string {
  if (!cell.startsWith(NUMBER_SIGN)) return cell;
  const plain = cell.slice(1);
  return sign === '.' ? plain : plain.replace('.', ',');
}

const SIMPLE = /^-?\d{1,15}$|^-?(?=.{1,16}$)\d+\.\d+$/;

/** A number in plain notation, as SQL and JSON write it, or undefined. Group separators are allowed where they part threes. */
export function plainNumber(text: string, sign: '.' | ','): string | undefined {
  if (text.startsWith(NUMBER_SIGN)) return plainNumber(text.slice(1), '.');
  if (sign === '.' && SIMPLE.test(text)) return text;
  const match = NUMBER[sign].exec(text);
  if (!match) return undefined;
  const bare = text.replaceAll(GROUPING[sign], '').replace('−', '-').replace(',', '.');
  const [mantissa, exponent] = bare.split(/[eE]/);
  // An exponent alone is a word, as e5 is.
  if (!/\d/.test(mantissa)) return undefined;
  if (bare.length > LONGEST_NUMBER || (exponent !== undefined && Math.abs(Number(exponent)) > MOST_DIGITS)) return undefined;
  if (exponent === undefined)
    return bare
      .replace(/^\+/, '')
      .replace(/\.$/, '')
      .replace(/^(-?)\./, '$10.');
  return expand(mantissa, Number(exponent));
}

/** Moves the point of a number by a power of ten, digit by digit, so that nothing is rounded. */
function expand(mantissa: string, exponent: number): string {
  const negative = mantissa.startsWith('-');
  const [whole, fraction = ''] = mantissa.replace(/^[+-]/, '').split('.');
  const digits = whole + fraction;
  const point = whole.length + exponent;
  const padded = point <= 0 ? '0'.repeat(1 - point) + digits : digits.padEnd(point, '0');
  const at = Math.max(point, 1);
  const text = `${padded.slice(0, at)}${padded.length > at ? `.${padded.slice(at)}` : ''}`.replace(/^0+(?=\d)/, '');
  return negative ? `-${text}` : text;
}

/** Decimal places of a plain number that are not zeros at its end. */
export function scaleOf(plain: string): number {
  const point = plain.indexOf('.');
  if (point < 0) return 0;
  let end = plain.length;
  while (plain.charCodeAt(end - 1) === 48) end--;
  return Math.max(0, end - point - 1);
}

/** Digits of a plain number before its point. */
export function wholeDigits(plain: string): number {
  const start = plain.startsWith('-') ? 1 : 0;
  const point = plain.indexOf('.');
  let at = start;
  while (plain.charCodeAt(at) === 48) at++;
  return Math.max(0, (point < 0 ? plain.length : point) - at);
}

/** Whether a plain number is held exactly once it is rounded to some decimal places. */
const isHeld = (plain: string, scale: number): boolean => wholeDigits(plain) + scale <= MOST_DIGITS;

/**
 * Whether a text of digits is more likely a code than a number: it begins with a zero that no number needs (007, a postal
 * code), or is a part number that only looks like an exponent (1E5; measured values write a point or a sign: 1.5E5, 1e-05).
 */
export function looksLikeCode(text: string): boolean {
  const first = text.charCodeAt(0);
  if (first === 48) {
    const second = text.charCodeAt(1);
    return (second >= 48 && second <= 57) || /^0+[eE]\d+$/.test(text);
  }
  return first >= 49 && first <= 57 && text.length > 2 && /^\d+[eE]\d+$/.test(text);
}

const ORDERS = {
  ymd: { pattern: /^(\d{4})([-/.])(\d{1,2})\2(\d{1,2})$|^(\d{4})(\d{2})(\d{2})$/, places: [0, 1, 2] },
  dmy: { pattern: /^(\d{1,2})([-/.])(\d{1,2})\2(\d{4})$/, places: [2, 1, 0] },
  mdy: { pattern: /^(\d{1,2})([-/.])(\d{1,2})\2(\d{4})$/, places: [2, 0, 1] },
} as const;

/** A date in ISO 8601, or undefined where the text is none in this order. */
export function plainDate(text: string, order: Reading['dateOrder']): string | undefined {
  const { pattern, places } = ORDERS[order];
  const match = pattern.exec(text);
  if (!match) return undefined;
  const parts = match[5] === undefined ? [match[1], match[3], match[4]] : [match[5], match[6], match[7]];
  const [year, month, day] = places.map((place) => parts[place].padStart(2, '0'));
  const days = parseIsoDate(`${year}-${month}-${day}`);
  return days === undefined ? undefined : isoDate(days);
}

const TIME = /^(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?(Z|[+-]\d{2}:?\d{2})?$/;

/** A date and time of day as `2026-01-31 14:05:00`: the time as written, an offset from UTC is left out. */
export function plainDateTime(text: string, order: Reading['dateOrder']): string | undefined {
  const gap = text.search(/[T ]/);
  if (gap < 0) return undefined;
  const date = plainDate(text.slice(0, gap), order);
  const match = date && TIME.exec(text.slice(gap + 1).trim());
  if (!match || Number(match[1]) > 23 || Number(match[2]) > 59 || Number(match[3] ?? 0) > 59) return undefined;
  return `${date} ${match[1].padStart(2, '0')}:${match[2]}:${match[3] ?? '00'}`;
}

const BOOLEANS = new Map([
  ...['true', 'yes', 'y', 't'].map((word) => [word, 'true'] as const),
  ...['false', 'no', 'n', 'f'].map((word) => [word, 'false'] as const),
]);

const DIGIT_OR_SIGN = /^[\d+\-−.,]/;
const INTEGER_BITS = 0b0011;
const POINT_BITS = 0b0100;
const COMMA_BITS = 0b1010;
const DECIMAL_BITS = 0b1100;

/**
 * The shapes of a text of digits with at most one point among them, the commonest cells, without any pattern; -1 for
 * every other text.
 */
function shapesOfDigits(text: string): number {
  const { length } = text;
  if (length > MOST_DIGITS || length === 8) return -1;
  let point = -1;
  for (let at = 0; at < length; at++) {
    const code = text.charCodeAt(at);
    if (code === 46 && point < 0 && at > 0 && at < length - 1) point = at;
    else if (code < 48 || code > 57) return -1;
  }
  if (point < 0) return INTEGER_BITS | POINT_BITS | 0b1000;
  return point <= 3 && length - point === 4 ? POINT_BITS | COMMA_BITS : POINT_BITS;
}

/** Bit of yes and no, which single letters fit too. */
export const BOOLEAN_BIT = 1 << SHAPES.indexOf('boolean');

/** All shapes that a trimmed, non-empty text fits, as bits in the order of `SHAPES`. */
export function shapesOf(text: string): number {
  const simple = shapesOfDigits(text);
  if (simple >= 0) return simple;
  let bits = BOOLEANS.has(text.toLowerCase()) ? BOOLEAN_BIT : 0;
  if (text.startsWith(NUMBER_SIGN)) {
    const plain = plainNumber(text, '.');
    if (plain === undefined || !isHeld(plain, 0)) return 0;
    return DECIMAL_BITS | (plain.includes('.') ? 0 : INTEGER_BITS);
  }
  if (text.length > 40 || !DIGIT_OR_SIGN.test(text)) return bits;
  (['.', ','] as const).forEach((sign, index) => {
    const plain = plainNumber(text, sign);
    if (plain === undefined || !isHeld(plain, 0)) return;
    bits |= 1 << (2 + index);
    if (!plain.includes('.')) bits |= 1 << index;
  });
  (['ymd', 'dmy', 'mdy'] as const).forEach((order, index) => {
    if (plainDate(text, order) !== undefined) bits |= 1 << (4 + index);
    else if (plainDateTime(text, order) !== undefined) bits |= 1 << (7 + index);
  });
  return bits;
}

/** A column of a file as it is to be brought in. */
export interface CellRule {
  type: ColumnType;
  scale: number;
  /** Words that mean "no value", besides the empty cell. */
  empties: readonly string[];
}

/** Most characters of a text that is imported. */
export const LONGEST_TEXT = 100_000;

/**
 * A cell as PostgreSQL takes it in: null for no value, undefined where the text is no value of the type, or none that is
 * held exactly. Decimals with more digits than the rule's scale are left for the database to round, half away from
 * zero, where that was agreed to.
 */
export function cellValue(rule: CellRule, notation: Notation, cell: string): string | null | undefined {
  const text = cell.trim();
  if (text === '' || rule.empties.includes(text)) return null;
  switch (rule.type) {
    case 'text':
      return cell.length > LONGEST_TEXT || cell.includes('\u0000') ? undefined : writtenCell(cell, '.');
    case 'integer': {
      const plain = plainNumber(text, notation.decimalSign);
      return plain === undefined || plain.includes('.') || !isHeld(plain, 0) ? undefined : plain;
    }
    case 'decimal': {
      const plain = plainNumber(text, notation.decimalSign);
      return plain === undefined || !isHeld(plain, rule.scale) ? undefined : plain;
    }
    case 'date':
      return plainDate(text, notation.dateOrder);
    case 'datetime':
      return plainDateTime(text, notation.dateOrder);
    case 'boolean':
      return BOOLEANS.get(text.toLowerCase());
  }
}

/** What a cell should look like, for messages. */
export function typeWords(type: ColumnType, { decimalSign, dateOrder }: Notation): string {
  const date = { ymd: '2026-10-31', dmy: '31.10.2026', mdy: '10/31/2026' }[dateOrder];
  switch (type) {
    case 'text':
      return `text of up to ${LONGEST_TEXT.toLocaleString('en-GB')} characters`;
    case 'integer':
      return `a whole number of up to ${MOST_DIGITS} digits`;
    case 'decimal':
      return `a number such as 1234${decimalSign}5 of up to ${MOST_DIGITS} digits, decimal places among them`;
    case 'date':
      return `a date such as ${date}`;
    case 'datetime':
      return `a date and time such as ${date} 14:05`;
    case 'boolean':
      return 'yes or no';
  }
}
