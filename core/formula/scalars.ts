import { compareText, likeTest } from '../engine/index.ts';
import type { CellType, CellValue } from './cell.ts';

type Numbers = (...values: number[]) => number;

/** A function of values of one cell. */
export interface Scalar {
  /** Types of its arguments; the last one is repeated where there are more, `any` fits every type but one for all. */
  takes: (CellType | 'any')[];
  least: number;
  most: number;
  /** Its own type; `same` is that of its arguments. */
  gives: CellType | 'same';
  /** `null` is a missing value, or unknown. */
  work(values: CellValue[]): CellValue;
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
const texts = (work: (...values: string[]) => CellValue, least: number, gives: CellType = 'text'): Scalar => ({
  ...{ takes: ['text'], gives, least, most: least },
  work: (values) => (values.includes(null) ? null : work(...(values as string[]))),
});

/** Rounds half away from zero, as SQL's round does on exact numbers; what is shown as 2.675 counts as that. */
export function roundTo(value: number, digits: number): number {
  const factor = 10 ** digits;
  return (Math.sign(value) * Math.round(Number((Math.abs(value) * factor).toPrecision(15)))) / factor;
}

/** Every function and operator that works on values of the same cell. */
export const SCALARS: Record<string, Scalar> = {
  '+': numeric((a, b) => a + b, 2),
  '-': numeric((a, b) => a - b, 2),
  '*': numeric((a, b) => a * b, 2),
  '/': numeric((a, b) => a / b, 2),
  '%': numeric((a, b) => a % b, 2),
  '^': numeric((a, b) => a ** b, 2),
  negate: numeric((a) => -a, 1),
  '||': texts((a, b) => a + b, 2),
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
  round: numeric((value, digits = 0) => roundTo(value, digits), 1, 2),
  floor: numeric(Math.floor, 1),
  ceil: numeric(Math.ceil, 1),
  sqrt: numeric(Math.sqrt, 1),
  ln: numeric(Math.log, 1),
  exp: numeric(Math.exp, 1),
  power: numeric((a, b) => a ** b, 2),
  sign: numeric(Math.sign, 1),
  least: numeric(Math.min, 1, 20),
  greatest: numeric(Math.max, 1, 20),
  upper: texts((text) => text.toUpperCase(), 1),
  lower: texts((text) => text.toLowerCase(), 1),
  trim: texts((text) => text.replace(/^ +| +$/g, ''), 1),
  length: texts((text) => [...text].length, 1, 'number'),
  contains: texts((text, part) => Number(text.includes(part)), 2, 'boolean'),
  starts_with: texts((text, part) => Number(text.startsWith(part)), 2, 'boolean'),
};

function likes(text: string | null, pattern: string): CellValue {
  return text === null ? null : Number(likeTest(pattern)(text));
}
