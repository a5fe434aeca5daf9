import { AGGREGATE_NAMES, aggregateTraits } from '../model/index.ts';
import { CELL_FUNCTIONS } from './cell-functions.ts';
import type { FunctionGroup } from './function-group.ts';
import { SCALAR_FUNCTIONS } from './scalar-functions.ts';

/** Help for a function of the language. */
export interface FunctionHelp {
  name: string;
  signature: string;
  about: string;
  example: string;
  group: FunctionGroup;
}

const help = (group: FunctionGroup, name: string, signature: string, about: string, example: string): FunctionHelp => ({
  ...{ group, name, signature, about, example },
});

/** Every function and form of the language, in groups, as an author looks them up. */
export const FUNCTION_HELP: FunctionHelp[] = [
  ...AGGREGATE_NAMES.map((name) => {
    const { about, example, most } = aggregateTraits(name);
    return help('Aggregates', name, `${name}(${most === 2 ? 'value, fraction' : 'value'} where condition)`, about, example);
  }),
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
  ...Object.entries(CELL_FUNCTIONS).map(([name, { group, signature, about, example }]) => help(group, name, signature, about, example)),
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
  ...Object.entries(SCALAR_FUNCTIONS).map(([name, { group, signature, about, example }]) => help(group, name, signature, about, example)),
];
