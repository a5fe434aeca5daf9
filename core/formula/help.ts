import { AGGREGATES } from '../model/index.ts';
import { CELL_FUNCTIONS } from './cell-functions.ts';

/** What an author is told of a function. */
export interface FunctionHelp {
  name: string;
  signature: string;
  about: string;
  example: string;
  group: string;
}

const help = (group: string, name: string, signature: string, about: string, example: string): FunctionHelp => ({
  ...{ group, name, signature, about, example },
});

const GROUPS: Record<string, string> = {
  ...Object.fromEntries(['unfiltered', 'share'].map((name) => [name, 'Totals and shares'])),
  ...Object.fromEntries(['change', 'growth', 'to_date', 'rolling', 'periods'].map((name) => [name, 'Periods'])),
  ...Object.fromEntries(['level_is', 'is_total'].map((name) => [name, 'Conditions'])),
};

const AGGREGATE_WORDS: Record<keyof typeof AGGREGATES, { about: string; example: string }> = {
  sum: { about: 'Adds a value over the records of the cell.', example: "sum(net_amount where channel = 'Online')" },
  avg: { about: 'The average over the records, or weighted by another value.', example: 'avg(unit_price, weight: quantity)' },
  min: { about: 'The smallest value, the first date, the first text.', example: 'min(order_date)' },
  max: { about: 'The largest value, the last date, the last text.', example: 'max(order_date)' },
  count: { about: 'How many records, or how many that have a value.', example: 'count(per customer where net_sales > 1000)' },
  count_distinct: { about: 'How many different values.', example: 'count_distinct(customer)' },
  median: { about: 'The middle value.', example: 'median(net_sales per customer)' },
  percentile: { about: 'The value that this part of the values lies below.', example: 'percentile(net_sales per customer, 0.9)' },
  mode: { about: 'The most frequent value.', example: 'mode(channel)' },
  stddev: { about: 'The standard deviation of a sample.', example: 'stddev(net_sales per day)' },
  stddev_pop: { about: 'The standard deviation of all values.', example: 'stddev_pop(net_sales per day)' },
  variance: { about: 'The variance of a sample.', example: 'variance(unit_price)' },
  var_pop: { about: 'The variance of all values.', example: 'var_pop(unit_price)' },
};

/** Every function and form of the language, in groups, as an author looks them up. */
export const FUNCTION_HELP: FunctionHelp[] = [
  ...Object.entries(AGGREGATE_WORDS).map(([name, { about, example }]) =>
    help(
      'Aggregates',
      name,
      `${name}(${AGGREGATES[name as 'sum'].most === 2 ? 'value, fraction' : 'value'} where condition)`,
      about,
      example,
    ),
  ),
  help(
    'Totals and shares',
    'at',
    'measure at level',
    'The measure with everything below a level cleared; also at parent, row, column, total.',
    'net_sales at country',
  ),
  help('Periods', 'back', 'measure back 1 year', 'The measure over the same days of an earlier period.', 'net_sales back 1 year'),
  help(
    'Aggregates',
    'per',
    'avg(measure per level)',
    'An aggregate over the members of a level, instead of over records.',
    'avg(net_sales per month)',
  ),
  ...Object.entries(CELL_FUNCTIONS).map(([name, { signature, about, example }]) =>
    help(GROUPS[name] ?? 'Position', name, signature, about, example),
  ),
  help(
    'Aggregates',
    'opening',
    'opening(value where condition)',
    'The sum of the first date with records among the cell’s dates: an opening balance.',
    'opening(quantity)',
  ),
  help(
    'Aggregates',
    'closing',
    'closing(value where condition)',
    'The sum of the last date with records among the cell’s dates: a closing balance.',
    'closing(quantity)',
  ),
  help(
    'Conditions',
    'if',
    'if(condition, a, b)',
    'One of two values. A condition that is unknown gives none.',
    'if(net_sales > target, net_sales - target, 0)',
  ),
  help(
    'Conditions',
    'case',
    'case when … then … else … end',
    'The value of the first condition that holds.',
    "case when net_sales >= target then 'reached' else 'missed' end",
  ),
  help('Conditions', 'prompt', 'prompt(name)', 'What the reader chose in a prompt of the report.', 'net_sales * (1 - prompt(discount))'),
  help('Conditions', 'coalesce', 'coalesce(a, b)', 'The first that has a value.', 'coalesce(target, 0)'),
  help('Numbers', 'abs', 'abs(number)', 'Without its sign.', 'abs(change(net_sales, 1 year))'),
  help('Numbers', 'round', 'round(number, digits)', 'Rounded, halves away from zero.', 'round(net_sales, -3)'),
  help('Numbers', 'floor', 'floor(number)', 'The whole number below.', 'floor(net_sales / 1000)'),
  help('Numbers', 'ceil', 'ceil(number)', 'The whole number above.', 'ceil(visit_hours)'),
  help('Numbers', 'sqrt', 'sqrt(number)', 'The square root.', 'sqrt(var_pop(unit_price))'),
  help('Numbers', 'ln', 'ln(number)', 'The natural logarithm.', 'ln(net_sales)'),
  help('Numbers', 'exp', 'exp(number)', 'The power of e.', 'exp(ln(net_sales))'),
  help(
    'Numbers',
    'power',
    'power(number, exponent)',
    'Raised to a power; ^ does the same.',
    'power(net_sales / (net_sales back 3 years), 1 / 3) - 1',
  ),
  help('Numbers', 'sign', 'sign(number)', '−1, 0 or 1.', 'sign(change(net_sales, 1 year))'),
  help('Numbers', 'least', 'least(a, b)', 'The smallest; none where one is missing.', 'least(net_sales, target)'),
  help('Numbers', 'greatest', 'greatest(a, b)', 'The largest; none where one is missing.', 'greatest(net_sales, target)'),
  help('Texts', 'upper', 'upper(text)', 'In capitals.', 'upper(max(channel))'),
  help('Texts', 'lower', 'lower(text)', 'In small letters.', 'lower(max(channel))'),
  help('Texts', 'trim', 'trim(text)', 'Without spaces around it.', 'trim(max(channel))'),
  help('Texts', 'length', 'length(text)', 'How many characters.', 'length(max(channel))'),
  help('Texts', 'contains', 'contains(text, part)', 'Whether a text holds another.', "if(contains(max(channel), 'line'), 1, 0)"),
  help(
    'Texts',
    'starts_with',
    'starts_with(text, part)',
    'Whether a text begins with another.',
    "if(starts_with(max(channel), 'On'), 1, 0)",
  ),
  help('Texts', 'left', 'left(text, characters)', 'Its first characters.', 'left(max(channel), 3)'),
  help('Texts', 'right', 'right(text, characters)', 'Its last characters.', 'right(max(channel), 3)'),
  help(
    'Texts',
    'replace',
    'replace(text, part, other)',
    'With another text in the place of a part.',
    "replace(max(channel), 'line', '-line')",
  ),
  help('Dates', 'year', 'year(date)', 'The calendar year of a date.', 'year(max(order_date))'),
  help('Dates', 'quarter', 'quarter(date)', 'The quarter of a date, 1 to 4.', 'quarter(max(order_date))'),
  help('Dates', 'month', 'month(date)', 'The month of a date, 1 to 12.', 'month(max(order_date))'),
  help('Dates', 'day', 'day(date)', 'The day of the month.', 'day(max(order_date))'),
  help('Dates', 'iso_week', 'iso_week(date)', 'The week of a date by ISO 8601, 1 to 53.', 'iso_week(max(order_date))'),
  help('Dates', 'iso_year', 'iso_year(date)', 'The year that its ISO 8601 week is in.', 'iso_year(max(order_date))'),
  help('Dates', 'weekday', 'weekday(date)', 'The day of the week, from Monday 1 to Sunday 7.', 'weekday(max(order_date))'),
  help(
    'Dates',
    'date_trunc',
    "date_trunc('month', date)",
    'The first day of the period that a date is in.',
    "date_trunc('month', max(order_date))",
  ),
  help(
    'Dates',
    'days_between',
    'days_between(from, to)',
    'How many days lie between two dates.',
    'days_between(min(order_date), max(order_date))',
  ),
  help('Dates', 'add_days', 'add_days(date, days)', 'A date some days later.', 'add_days(max(order_date), 30)'),
  help('Dates', 'add_months', 'add_months(date, months)', 'A date some months later.', 'add_months(max(order_date), 3)'),
];
