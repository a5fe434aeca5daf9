import { civilOf, isoWeekday, periodKey, periodRange, shiftDay } from '../calendar/index.ts';
import { compareText, likeTest } from './text.ts';

/** A value of a formula: a number (dates as days since 1970-01-01, conditions as 1 and 0), a text, or nothing. */
export type ScalarValue = number | string | null;

export type ScalarType = 'number' | 'text' | 'date' | 'boolean';

type Numbers = (...values: number[]) => number;

/** A function of values of one cell, or of one record. */
export interface Scalar {
  /** Types of its arguments; the last one is repeated where there are more, `any` fits every type but one for all. */
  takes: (ScalarType | 'any')[];
  least: number;
  most: number;
  /** Its own type; `same` is that of its arguments. */
  gives: ScalarType | 'same';
  /** `null` is a missing value, or unknown. */
  work(values: ScalarValue[]): ScalarValue;
  /** Digits after the point that its numbers have at most, where that is known: `second` is what its second argument says. */
  scale?: number | 'second';
  /** The words that its first argument may be. */
  words?: readonly string[];
}

/** As many characters a text has at most that a formula makes; a longer one is no value. */
export const LONGEST_TEXT = 10_000;

/** A text that a formula made, where it is not too long. A character is a code point, as in SQL. */
const made = (text: string): string | null =>
  text.length <= LONGEST_TEXT || (text.length <= 2 * LONGEST_TEXT && [...text].length <= LONGEST_TEXT) ? text : null;

/** Characters of a text, as SQL counts them. */
const charactersIn = (text: string): number => [...text].length;

/** Every occurrence replaced; no value where that would be too long, which is known before it is made. */
function replaced(text: string, from: string, to: string): string | null {
  if (from === '') return made(text);
  const parts = text.split(from);
  const length = parts.reduce((sum, part) => sum + charactersIn(part), (parts.length - 1) * charactersIn(to));
  return length <= LONGEST_TEXT ? parts.join(to) : null;
}

const finite = (value: number): number | null => (Number.isFinite(value) ? value : null);

/** Of numbers; a missing one, or a result that is none (a division by zero), leaves no value. */
const numeric = (work: Numbers, least: number, most = least): Scalar => ({
  ...{ takes: ['number'], gives: 'number', least, most },
  work: (values) => (values.includes(null) ? null : finite(work(...(values as number[])))),
});
const orderOf = (a: number | string, b: number | string): number =>
  typeof a === 'string' ? compareText(a, b as string) : a - (b as number);
const compared = (holds: (order: number) => boolean): Scalar => ({
  ...{ takes: ['any'], gives: 'boolean', least: 2, most: 2 },
  work: ([a, b]) => (a === null || b === null ? null : Number(holds(orderOf(a, b)))),
});
const texts = (work: (...values: string[]) => ScalarValue, least: number, gives: ScalarType = 'text'): Scalar => ({
  ...{ takes: ['text'], gives, least, most: least },
  work: (values) => (values.includes(null) ? null : work(...(values as string[]))),
});

/** Of dates, and numbers after them. */
const ofDates = (takes: Scalar['takes'], gives: ScalarType, work: (...values: number[]) => number): Scalar => ({
  ...{ takes, gives, least: takes.length, most: takes.length, scale: 0 },
  work: (values) => (values.includes(null) ? null : finite(work(...(values as number[])))),
});

/** The units of `date_trunc`. */
const TRUNC_UNITS = ['year', 'quarter', 'month', 'week', 'day'] as const;

function truncated(unit: string, day: number): number | null {
  if (unit === 'week') return day - isoWeekday(day) + 1;
  const period = TRUNC_UNITS.find((one) => one === unit);
  return period && period !== 'week' ? periodRange(period, periodKey(period, day))!.first : null;
}

/** A part of a text by characters, as PostgreSQL's left and right take negative numbers. */
function cut(text: string, count: number, from: 'left' | 'right'): string {
  const characters = [...text];
  const length =
    Math.round(count) >= 0 ? Math.min(Math.round(count), characters.length) : Math.max(0, characters.length + Math.round(count));
  return (from === 'left' ? characters.slice(0, length) : characters.slice(characters.length - length)).join('');
}

/** Rounds half away from zero, as SQL's round does on exact numbers; what is shown as 2.675 counts as that. */
function roundTo(value: number, digits: number): number {
  const factor = 10 ** digits;
  return (Math.sign(value) * Math.round(Number((Math.abs(value) * factor).toPrecision(15)))) / factor;
}

/** Every function and operator that works on values of the same cell. */
export const SCALARS = {
  '+': numeric((a, b) => a + b, 2),
  '-': numeric((a, b) => a - b, 2),
  '*': numeric((a, b) => a * b, 2),
  '/': numeric((a, b) => a / b, 2),
  '%': numeric((a, b) => a % b, 2),
  '^': numeric((a, b) => a ** b, 2),
  negate: numeric((a) => -a, 1),
  '||': texts((a, b) => made(a + b), 2),
  '=': compared((order) => order === 0),
  '<>': compared((order) => order !== 0),
  '<': compared((order) => order < 0),
  '<=': compared((order) => order <= 0),
  '>': compared((order) => order > 0),
  '>=': compared((order) => order >= 0),
  and: {
    ...{ takes: ['boolean'], gives: 'boolean', least: 2, most: 2 },
    work: (values) => (values.includes(0) ? 0 : values.includes(null) ? null : 1),
  },
  or: {
    ...{ takes: ['boolean'], gives: 'boolean', least: 2, most: 2 },
    work: (values) => (values.includes(1) ? 1 : values.includes(null) ? null : 0),
  },
  not: { takes: ['boolean'], gives: 'boolean', least: 1, most: 1, work: ([a]) => (a === null ? null : 1 - (a as number)) },
  missing: { takes: ['any'], gives: 'boolean', least: 1, most: 1, work: ([a]) => Number(a === null) },
  like: { takes: ['text'], gives: 'boolean', least: 2, most: 2, work: ([a, pattern]) => likes(a as string | null, pattern as string) },
  coalesce: { takes: ['any'], gives: 'same', least: 1, most: 20, work: (values) => values.find((value) => value !== null) ?? null },
  abs: numeric(Math.abs, 1),
  round: { ...numeric((value, digits = 0) => roundTo(value, digits), 1, 2), scale: 'second' },
  floor: { ...numeric(Math.floor, 1), scale: 0 },
  ceil: { ...numeric(Math.ceil, 1), scale: 0 },
  sqrt: numeric(Math.sqrt, 1),
  ln: numeric(Math.log, 1),
  exp: numeric(Math.exp, 1),
  power: numeric((a, b) => a ** b, 2),
  sign: { ...numeric(Math.sign, 1), scale: 0 },
  least: numeric(Math.min, 1, 20),
  greatest: numeric(Math.max, 1, 20),
  left: {
    ...texts(() => null, 2),
    takes: ['text', 'number'],
    work: ([text, count]) => (text === null || count === null ? null : cut(text as string, count as number, 'left')),
  },
  right: {
    ...texts(() => null, 2),
    takes: ['text', 'number'],
    work: ([text, count]) => (text === null || count === null ? null : cut(text as string, count as number, 'right')),
  },
  replace: texts(replaced, 3),
  year: ofDates(['date'], 'number', (day) => civilOf(day).year),
  quarter: ofDates(['date'], 'number', (day) => Math.ceil(civilOf(day).month / 3)),
  month: ofDates(['date'], 'number', (day) => civilOf(day).month),
  day: ofDates(['date'], 'number', (day) => civilOf(day).day),
  iso_week: ofDates(['date'], 'number', (day) => Number(periodKey('iso_week', day).slice(-2))),
  iso_year: ofDates(['date'], 'number', (day) => Number(periodKey('iso_week', day).slice(0, 4))),
  weekday: ofDates(['date'], 'number', isoWeekday),
  date_trunc: {
    ...{ takes: ['text', 'date'], gives: 'date', least: 2, most: 2, scale: 0, words: TRUNC_UNITS },
    work: ([unit, day]) => (unit === null || day === null ? null : truncated(unit as string, day as number)),
  },
  days_between: ofDates(['date', 'date'], 'number', (from, to) => to - from),
  add_days: ofDates(['date', 'number'], 'date', (day, count) => day + Math.round(count)),
  add_months: ofDates(['date', 'number'], 'date', (day, count) => shiftDay(day, Math.round(count), 'month')),
  upper: texts((text) => text.toUpperCase(), 1),
  lower: texts((text) => text.toLowerCase(), 1),
  trim: texts((text) => text.replace(/^ +| +$/g, ''), 1),
  length: { ...texts(charactersIn, 1, 'number'), scale: 0 },
  contains: texts((text, part) => Number(text.includes(part)), 2, 'boolean'),
  starts_with: texts((text, part) => Number(text.startsWith(part)), 2, 'boolean'),
} satisfies Record<string, Scalar>;

/** Functions and operators by name; operators are those that no formula calls. */
export type ScalarName = keyof typeof SCALARS;

/** Those of records by themselves: arithmetic minds the digits after the point there, and is a kind of its own. */
export type RecordScalarName = Exclude<ScalarName, '+' | '-' | '*' | '/' | '%' | '^' | 'negate'>;

/** A function or an operator that works on values of the same cell. */
export const scalarNamed = (name: ScalarName): Scalar => SCALARS[name];

function likes(text: string | null, pattern: string): ScalarValue {
  return text === null ? null : Number(likeTest(pattern)(text));
}
