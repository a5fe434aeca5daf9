import type { ScalarName } from '../engine/index.ts';
import type { FunctionGroup } from './function-group.ts';

/** Scalars that are written as operators, or that other forms are made of. */
type Operator =
  | ('+' | '-' | '*' | '/' | '%' | '^' | '||' | '=' | '<>' | '<' | '<=' | '>' | '>=')
  | ('negate' | 'and' | 'or' | 'not' | 'missing' | 'like');

export type ScalarFunctionName = Exclude<ScalarName, Operator>;

/** Help for a function of values. */
interface ScalarFunction {
  group: FunctionGroup;
  /** How it is called: "round(number, digits)". */
  signature: string;
  /** What it gives, in a sentence. */
  about: string;
  example: string;
}

/** Functions of values that are called by name, in formulas of records and of measures; they work as `SCALARS` say. */
export const SCALAR_FUNCTIONS: Record<ScalarFunctionName, ScalarFunction> = {
  coalesce: {
    group: 'Conditions',
    signature: 'coalesce(a, b)',
    about: 'The first that has a value.',
    example: 'coalesce(target, 0)',
  },
  abs: { group: 'Numbers', signature: 'abs(number)', about: 'Without its sign.', example: 'abs(change(net_sales, 1 year))' },
  round: {
    group: 'Numbers',
    signature: 'round(number, digits)',
    about: 'Rounded, halves away from zero.',
    example: 'round(net_sales, -3)',
  },
  floor: { group: 'Numbers', signature: 'floor(number)', about: 'The whole number below.', example: 'floor(net_sales / 1000)' },
  ceil: { group: 'Numbers', signature: 'ceil(number)', about: 'The whole number above.', example: 'ceil(visit_hours)' },
  sqrt: { group: 'Numbers', signature: 'sqrt(number)', about: 'The square root.', example: 'sqrt(var_pop(unit_price))' },
  ln: { group: 'Numbers', signature: 'ln(number)', about: 'The natural logarithm.', example: 'ln(net_sales)' },
  exp: { group: 'Numbers', signature: 'exp(number)', about: 'The power of e.', example: 'exp(ln(net_sales))' },
  power: {
    group: 'Numbers',
    signature: 'power(number, exponent)',
    about: 'Raised to a power; ^ does the same.',
    example: 'power(net_sales / (net_sales back 3 years), 1 / 3) - 1',
  },
  sign: { group: 'Numbers', signature: 'sign(number)', about: '−1, 0 or 1.', example: 'sign(change(net_sales, 1 year))' },
  least: {
    group: 'Numbers',
    signature: 'least(a, b)',
    about: 'The smallest; none where one is missing.',
    example: 'least(net_sales, target)',
  },
  greatest: {
    group: 'Numbers',
    signature: 'greatest(a, b)',
    about: 'The largest; none where one is missing.',
    example: 'greatest(net_sales, target)',
  },
  upper: { group: 'Texts', signature: 'upper(text)', about: 'In capitals.', example: 'upper(max(channel))' },
  lower: { group: 'Texts', signature: 'lower(text)', about: 'In small letters.', example: 'lower(max(channel))' },
  trim: { group: 'Texts', signature: 'trim(text)', about: 'Without spaces around it.', example: 'trim(max(channel))' },
  length: { group: 'Texts', signature: 'length(text)', about: 'How many characters.', example: 'length(max(channel))' },
  contains: {
    group: 'Texts',
    signature: 'contains(text, part)',
    about: 'Whether a text holds another.',
    example: "if(contains(max(channel), 'line'), 1, 0)",
  },
  starts_with: {
    group: 'Texts',
    signature: 'starts_with(text, part)',
    about: 'Whether a text begins with another.',
    example: "if(starts_with(max(channel), 'On'), 1, 0)",
  },
  left: { group: 'Texts', signature: 'left(text, characters)', about: 'Its first characters.', example: 'left(max(channel), 3)' },
  right: { group: 'Texts', signature: 'right(text, characters)', about: 'Its last characters.', example: 'right(max(channel), 3)' },
  replace: {
    group: 'Texts',
    signature: 'replace(text, part, other)',
    about: 'With another text in the place of a part.',
    example: "replace(max(channel), 'line', '-line')",
  },
  year: { group: 'Dates', signature: 'year(date)', about: 'The calendar year of a date.', example: 'year(max(order_date))' },
  quarter: { group: 'Dates', signature: 'quarter(date)', about: 'The quarter of a date, 1 to 4.', example: 'quarter(max(order_date))' },
  month: { group: 'Dates', signature: 'month(date)', about: 'The month of a date, 1 to 12.', example: 'month(max(order_date))' },
  day: { group: 'Dates', signature: 'day(date)', about: 'The day of the month.', example: 'day(max(order_date))' },
  iso_week: {
    group: 'Dates',
    signature: 'iso_week(date)',
    about: 'The week of a date by ISO 8601, 1 to 53.',
    example: 'iso_week(max(order_date))',
  },
  iso_year: {
    group: 'Dates',
    signature: 'iso_year(date)',
    about: 'The year that its ISO 8601 week is in.',
    example: 'iso_year(max(order_date))',
  },
  weekday: {
    group: 'Dates',
    signature: 'weekday(date)',
    about: 'The day of the week, from Monday 1 to Sunday 7.',
    example: 'weekday(max(order_date))',
  },
  date_trunc: {
    group: 'Dates',
    signature: "date_trunc('month', date)",
    about: 'The first day of the period that a date is in.',
    example: "date_trunc('month', max(order_date))",
  },
  days_between: {
    group: 'Dates',
    signature: 'days_between(from, to)',
    about: 'How many days lie between two dates.',
    example: 'days_between(min(order_date), max(order_date))',
  },
  add_days: {
    group: 'Dates',
    signature: 'add_days(date, days)',
    about: 'A date some days later.',
    example: 'add_days(max(order_date), 30)',
  },
  add_months: {
    group: 'Dates',
    signature: 'add_months(date, months)',
    about: 'A date some months later.',
    example: 'add_months(max(order_date), 3)',
  },
};

export const isScalarFunction = (name: string): name is ScalarFunctionName => Object.hasOwn(SCALAR_FUNCTIONS, name);
