import { LONGEST_TEXT, type RecordScalarName } from '@bold-compass/core/engine';

/** A call that has no value where one of its arguments has none. */
const strict = (args: string[], sql: string): string =>
  `(CASE WHEN ${args.map((arg) => `(${arg}) IS NULL`).join(' OR ')} THEN NULL ELSE ${sql} END)`;
const float = (sql: string): string => `(${sql})::float8`;
const whole = (sql: string): string => `round(${sql})::int`;
/** Letters change their case by Unicode's rules, as they do in JavaScript. */
export const unicodeCase = (fn: 'lower' | 'upper', text: string): string => `(${fn}((${text}) COLLATE "und-x-icu") COLLATE "C")`;
const part =
  (field: string) =>
  ([date]: string[]): string =>
    `extract(${field} FROM ${date})::numeric`;
/** An expression over named values, each of which stands in the statement once; `OFFSET 0` keeps the planner from copying them. */
const over = (values: Record<string, string>, sql: string): string =>
  `(SELECT ${sql} FROM (SELECT ${Object.entries(values)
    .map(([name, value]) => `${value} AS ${name}`)
    .join(', ')} OFFSET 0) AS given)`;
const infix =
  (op: string) =>
  ([a, b]: string[]): string =>
    `(${a} ${op} ${b})`;

/** Every function of `SCALARS` in PostgreSQL's words; what has no value there has none here, and raises no error. */
export const SCALAR_SQL: Record<RecordScalarName, (args: string[]) => string> = {
  '||': ([a, b]) => over({ made: `${a} || ${b}` }, `CASE WHEN char_length(made) <= ${LONGEST_TEXT} THEN made END`),
  '=': infix('='),
  '<>': infix('<>'),
  '<': infix('<'),
  '<=': infix('<='),
  '>': infix('>'),
  '>=': infix('>='),
  and: infix('AND'),
  or: infix('OR'),
  not: ([a]) => `(NOT ${a})`,
  missing: ([a]) => `((${a}) IS NULL)`,
  like: infix('LIKE'),
  coalesce: (args) => `coalesce(${args.join(', ')})`,
  abs: ([a]) => `abs(${a})`,
  round: ([a, digits = '0']) => `round((${a})::numeric, ${whole(digits)})`,
  floor: ([a]) => `floor(${a})`,
  ceil: ([a]) => `ceil(${a})`,
  sqrt: ([a]) => `(CASE WHEN ${a} >= 0 THEN sqrt(${float(a)}) END)`,
  ln: ([a]) => `(CASE WHEN ${a} > 0 THEN ln(${float(a)}) END)`,
  exp: ([a]) => `(CASE WHEN ${a} < -700 THEN 0 WHEN ${a} <= 709 THEN exp(${float(a)}) END)`,
  power: ([a, b]) =>
    `(CASE WHEN (${a} = 0 AND ${b} < 0) OR (${a} < 0 AND ${b} <> floor(${b})) THEN NULL ELSE power(${float(a)}, ${float(b)}) END)`,
  sign: ([a]) => `sign(${a})`,
  least: (args) => strict(args, `least(${args.join(', ')})`),
  greatest: (args) => strict(args, `greatest(${args.join(', ')})`),
  upper: ([text]) => unicodeCase('upper', text),
  lower: ([text]) => unicodeCase('lower', text),
  trim: ([text]) => `btrim(${text}, ' ')`,
  length: ([text]) => `char_length(${text})::numeric`,
  left: ([text, count]) => `left(${text}, ${whole(count)})`,
  right: ([text, count]) => `right(${text}, ${whole(count)})`,
  // How long it would be is known before it is made.
  replace: ([text, old, fresh]) =>
    over(
      { whole: text, old, fresh },
      `CASE WHEN char_length(whole) + (CASE WHEN old = '' THEN 0 ELSE (char_length(whole) - char_length(replace(whole, old, '')))::bigint
         / char_length(old) * (char_length(fresh) - char_length(old)) END) <= ${LONGEST_TEXT} THEN replace(whole, old, fresh) END`,
    ),
  contains: ([text, other]) => `(strpos(${text}, ${other}) > 0)`,
  starts_with: ([text, other]) => `starts_with(${text}, ${other})`,
  year: part('year'),
  quarter: part('quarter'),
  month: part('month'),
  day: part('day'),
  iso_week: part('week'),
  iso_year: part('isoyear'),
  weekday: part('isodow'),
  date_trunc: ([unit, date]) => `date_trunc(${unit}, (${date})::timestamp)::date`,
  days_between: ([from, to]) => `((${to}) - (${from}))::numeric`,
  add_days: ([date, count]) => `((${date}) + ${whole(count)})`,
  add_months: ([date, count]) => `((${date}) + ${whole(count)} * interval '1 month')::date`,
};
