import type { ShiftUnit } from '../calendar/index.ts';
import { typeOfExpression, type ScalarName } from '../engine/index.ts';
import { aggregateTraits, findField, isCounted, isNumberType, type Period } from '../model/index.ts';
import { sizeOf, type Cell, type CellType, type Place, type PositionName } from './cell.ts';
import type { FunctionGroup } from './function-group.ts';
import { knownNames, quoted, type FormulaContext } from './conditions.ts';
import { nearestName } from './names.ts';
import { FormulaError, type Span, type Syntax, type WrittenName } from './syntax.ts';

/** A part of a measure formula with what it holds. */
export interface TypedCell {
  cell: Cell;
  type: CellType;
}

type Call = Extract<Syntax, { kind: 'call' }>;

/** What functions of measures are given to build with. */
export interface CellPlanning extends FormulaContext {
  plan(node: Syntax): TypedCell;
  /** The same of a part that has to be a number. */
  number(node: Syntax): Cell;
  /** The fact whose dates count where a function reads no measure. */
  datesOf(span: Span): string;
}

/** A function that works on measures: where a cell stands, over which dates, among which others. */
interface CellFunction {
  group: FunctionGroup;
  /** How it is called: "share(measure, of: parent)". */
  signature: string;
  /** What it gives, in a sentence. */
  about: string;
  example: string;
  least: number;
  most: number;
  /** Named arguments that it knows. */
  named: string[];
  build(planning: CellPlanning, call: Call): TypedCell;
}

const UNITS: Record<string, ShiftUnit> = {};
for (const unit of ['year', 'quarter', 'month', 'week', 'day'] as const) UNITS[unit] = UNITS[`${unit}s`] = unit;

/** What a written length of time is. Throws FormulaError. */
export function durationOf(context: FormulaContext, node: Syntax): { amount: number; unit: ShiftUnit } {
  const wrong = (): FormulaError => new FormulaError({ code: 'duration-expected', span: node.span, subject: quoted(context, node.span) });
  if (node.kind !== 'duration') throw wrong();
  const [amount, unit] = [Number(node.amount), Object.hasOwn(UNITS, node.unit) ? UNITS[node.unit] : undefined];
  if (!unit || !Number.isInteger(amount) || amount < 1 || amount > 10_000) throw wrong();
  return { amount, unit };
}

/** The words for a place that are no levels. */
const PLACES: Record<string, Place> = {
  parent: { to: 'parent', axis: 'side' },
  row: { to: 'total', axes: ['top'] },
  column: { to: 'total', axes: ['side'] },
  total: { to: 'total', axes: ['side', 'top'] },
};

/** A level by its name: of a dimension, a period, or a fact's own field whose values are members. Throws FormulaError where there is none. */
export function levelNamed(context: FormulaContext, { name, span }: WrittenName): string {
  const place = findField(context.dataset, name);
  if (!place) {
    const known = [...Object.keys(PLACES), ...knownNames(context.dataset)];
    throw new FormulaError({ code: 'unknown-name', span, subject: name, hint: nearestName(name, known) });
  }
  const isMembers = place.kind === 'level' || place.kind === 'period' || (place.kind === 'fact' && !isNumberType(place.type));
  if (!isMembers) throw new FormulaError({ code: 'not-a-level', span, subject: name });
  return place.name;
}

/** Where `at` leads: a level, or parent, row, column, total. Throws FormulaError. */
export function placeOf(context: FormulaContext, written: WrittenName): Place {
  const word = written.name.toLowerCase();
  if (!written.quoted && Object.hasOwn(PLACES, word)) return PLACES[word];
  return { to: 'level', field: levelNamed(context, written) };
}

function nameArgument(context: FormulaContext, node: Syntax): WrittenName {
  if (node.kind !== 'name') throw new FormulaError({ code: 'name-expected', span: node.span, subject: quoted(context, node.span) });
  return node;
}

/** A named argument that is one of some words. Throws FormulaError. */
function wordArgument<Word extends string>(context: FormulaContext, call: Call, name: string, words: readonly Word[], usual: Word): Word {
  const given = call.named.find((one) => one.name === name);
  if (!given) return usual;
  const written = nameArgument(context, given.value);
  const word = words.find((one) => one === written.name.toLowerCase());
  if (word) return word;
  throw new FormulaError({ code: 'word-expected', span: given.value.span, subject: name, hint: words.join(' or ') });
}

/** A word or a level for a period of time: `year`, or the name of a level of a calendar. */
function periodArgument(context: FormulaContext, node: Syntax): Period {
  const { name, span } = nameArgument(context, node);
  const place = findField(context.dataset, name);
  if (place?.kind === 'period' && place.level.period !== 'weekday') return place.level.period;
  const plain = (['year', 'quarter', 'month'] as const).find((one) => one === name.toLowerCase());
  if (!plain) throw new FormulaError({ code: 'not-a-period', span, subject: name });
  return plain;
}

const AXES = { down: 'side', across: 'top' } as const;
const number = (cell: Cell): TypedCell => ({ cell, type: 'number' });
const boolean = (cell: Cell): TypedCell => ({ cell, type: 'boolean' });
const apply = (fn: ScalarName, ...args: Cell[]): Cell => ({ kind: 'apply', fn, args });
const dividedBy = (a: Cell, b: Cell): TypedCell => number(apply('/', a, b));

function position(
  planning: CellPlanning,
  call: Call,
  fn: PositionName,
  { along = 'down' as 'down' | 'across', count = 1 } = {},
): Extract<Cell, { kind: 'position' }> {
  return {
    ...{ kind: 'position', fn, operand: planning.number(call.args[0]), count },
    axis: AXES[wordArgument(planning, call, 'along', ['down', 'across'], along)],
    within: wordArgument(planning, call, 'within', ['column', 'parent'], 'column'),
    order: wordArgument(planning, call, 'order', ['desc', 'asc'], 'desc'),
  };
}

function runningOf(planning: CellPlanning, call: Call): Extract<Cell, { kind: 'position' }> {
  const running = position(planning, call, 'running');
  return { ...running, operand: forRunning(planning, running.operand, call.args[0].span) };
}

function countArgument(context: FormulaContext, node: Syntax): number {
  const count = node.kind === 'number' ? Number(node.text) : Number.NaN;
  if (Number.isInteger(count) && count >= 1 && count <= 1_000) return count;
  throw new FormulaError({ code: 'whole-number-expected', span: node.span, subject: quoted(context, node.span) });
}

/** As many parts a formula may have that runs over members. */
const MOST_RUNNING = 1_000;

/**
 * A formula whose aggregates can take in one member after another: averages become sums over counts, distinct counts and
 * medians of a field go through its values. Throws FormulaError for those that would need every record again.
 */
function forRunning(context: FormulaContext, cell: Cell, span: Span): Cell {
  if (sizeOf(cell) > MOST_RUNNING) throw new FormulaError({ code: 'too-large', span, subject: String(MOST_RUNNING) });
  const inner = (part: Cell): Cell => forRunning(context, part, span);
  switch (cell.kind) {
    case 'aggregate': {
      const { fact, call } = cell;
      const { running } = aggregateTraits(call.fn);
      if (running === 'merge') return cell;
      const counted = (fn: 'sum' | 'count'): Cell => ({ kind: 'aggregate', fact, call: { ...call, fn } });
      if (running === 'quotient') return apply('/', counted('sum'), counted('count'));
      if (running === 'members' && call.argument?.kind === 'field') {
        const where = apply('>', counted('count'), { kind: 'constant', value: 0 });
        return { kind: 'per', fn: 'count', fraction: 0, operand: null, fields: [call.argument.name], where, facts: [fact] };
      }
      if (isCounted(call.fn) && call.argument?.kind === 'field' && typeOfExpression(context.dataset, call.argument) === 'number')
        return {
          ...{ kind: 'ofCounts', fn: call.fn, fraction: call.fraction ?? 0.5, field: call.argument.name },
          ...{ counted: counted('count'), facts: [fact] },
        };
      throw new FormulaError({ code: 'running-aggregate', span, subject: call.fn });
    }
    case 'apply':
      return { ...cell, args: cell.args.map(inner) };
    case 'choose':
      return {
        ...cell,
        branches: cell.branches.map(({ when, then }) => ({ when: inner(when), then: inner(then) })),
        otherwise: cell.otherwise && inner(cell.otherwise),
      };
    case 'measure':
      return { ...cell, cell: inner(cell.cell) };
    case 'at':
    case 'moved':
    case 'unfiltered':
      return { ...cell, operand: inner(cell.operand) };
    case 'per':
      return { ...cell, operand: cell.operand && inner(cell.operand), where: cell.where && inner(cell.where) };
    case 'position':
      throw new FormulaError({ code: 'running-aggregate', span, subject: cell.fn });
    default:
      return cell;
  }
}

/** Every function of measures, by its name. */
export const CELL_FUNCTIONS: Record<string, CellFunction> = {
  unfiltered: {
    group: 'Totals and shares',
    signature: 'unfiltered(measure)',
    about: 'The measure without the prompts and filters of the report; access rules stay.',
    example: 'net_sales / unfiltered(net_sales)',
    ...{ least: 1, most: 1, named: [] },
    build: (planning, { args }) => {
      const { cell, type } = planning.plan(args[0]);
      return { cell: { kind: 'unfiltered', operand: cell }, type };
    },
  },
  share: {
    group: 'Totals and shares',
    signature: 'share(measure, of: parent)',
    about: 'The part that the cell is of its parent, or of: row, column, total, or a level.',
    example: 'share(net_sales, of: total)',
    ...{ least: 1, most: 1, named: ['of'] },
    build: (planning, { args, named }) => {
      const operand = planning.number(args[0]);
      const of = named.find(({ name }) => name === 'of');
      const place = of ? placeOf(planning, nameArgument(planning, of.value)) : PLACES.parent;
      return dividedBy(operand, { kind: 'at', operand, place });
    },
  },
  change: {
    group: 'Periods',
    signature: 'change(measure, 1 year)',
    about: 'The difference to the same days of an earlier period.',
    example: 'change(net_sales, 1 year)',
    ...{ least: 2, most: 2, named: [] },
    build: (planning, { args }) => {
      const operand = planning.number(args[0]);
      return number(apply('-', operand, { kind: 'moved', operand, move: { kind: 'back', ...durationOf(planning, args[1]) } }));
    },
  },
  growth: {
    group: 'Periods',
    signature: 'growth(measure, 1 year)',
    about: 'The difference to the same days of an earlier period, as a part of what it was then.',
    example: 'growth(net_sales, 1 year)',
    ...{ least: 2, most: 2, named: [] },
    build: (planning, { args }) => {
      const operand = planning.number(args[0]);
      const before: Cell = { kind: 'moved', operand, move: { kind: 'back', ...durationOf(planning, args[1]) } };
      return dividedBy(apply('-', operand, before), apply('abs', before));
    },
  },
  to_date: {
    group: 'Periods',
    signature: 'to_date(measure, year)',
    about: 'From the start of that year, quarter or month to the end of the cell’s dates.',
    example: 'to_date(net_sales, year)',
    ...{ least: 2, most: 2, named: [] },
    build: (planning, { args }) => {
      const { cell, type } = planning.plan(args[0]);
      return { cell: { kind: 'moved', operand: cell, move: { kind: 'to_date', period: periodArgument(planning, args[1]) } }, type };
    },
  },
  rolling: {
    group: 'Periods',
    signature: 'rolling(measure, 3 months)',
    about: 'The window of this length that ends with the cell’s dates.',
    example: 'rolling(net_sales, 12 months)',
    ...{ least: 2, most: 2, named: [] },
    build: (planning, { args }) => {
      const { cell, type } = planning.plan(args[0]);
      return { cell: { kind: 'moved', operand: cell, move: { kind: 'rolling', ...durationOf(planning, args[1]) } }, type };
    },
  },
  periods: {
    group: 'Periods',
    signature: 'periods(month)',
    about: 'How many periods of a level the cell’s dates touch, empty ones too.',
    example: 'net_sales / periods(month)',
    ...{ least: 1, most: 1, named: [] },
    build: (planning, { args, span }) =>
      number({ kind: 'periods', fact: planning.datesOf(span), period: periodArgument(planning, args[0]) }),
  },
  rank: {
    group: 'Position',
    signature: 'rank(measure, within: column, order: desc)',
    about: 'The place among the members of the same level (1, 1, 3), the largest first; within: parent ranks siblings.',
    example: 'rank(net_sales, within: parent)',
    ...{ least: 1, most: 1, named: ['within', 'order'] },
    build: (planning, call) => number(position(planning, call, 'rank')),
  },
  running: {
    group: 'Position',
    signature: 'running(measure, along: down)',
    about: 'The measure over the members so far, in the order shown, within their parent.',
    example: 'running(net_sales)',
    ...{ least: 1, most: 1, named: ['along'] },
    build: (planning, call) => number(runningOf(planning, call)),
  },
  cumulative_share: {
    group: 'Position',
    signature: 'cumulative_share(measure, along: down)',
    about: 'The running total as a part of the parent’s.',
    example: 'cumulative_share(net_sales)',
    ...{ least: 1, most: 1, named: ['along'] },
    build: (planning, call) => {
      const whole = position(planning, call, 'running');
      const running = { ...whole, operand: forRunning(planning, whole.operand, call.args[0].span) };
      return dividedBy(running, { kind: 'at', operand: whole.operand, place: { to: 'parent', axis: running.axis } });
    },
  },
  moving_avg: {
    group: 'Position',
    signature: 'moving_avg(measure, 3, along: across)',
    about: 'The average of the cell and its neighbours before it, so many in all.',
    example: 'moving_avg(net_sales, 3)',
    ...{ least: 2, most: 2, named: ['along'] },
    build: (planning, call) =>
      number(position(planning, call, 'moving_avg', { along: 'across', count: countArgument(planning, call.args[1]) })),
  },
  previous: {
    group: 'Position',
    signature: 'previous(measure, along: across)',
    about: 'The measure in the neighbour before.',
    example: 'previous(net_sales)',
    ...{ least: 1, most: 1, named: ['along'] },
    build: (planning, call) => number(position(planning, call, 'previous', { along: 'across' })),
  },
  next: {
    group: 'Position',
    signature: 'next(measure, 1, along: across)',
    about: 'The measure in the neighbour after, or so many steps on.',
    example: 'next(net_sales)',
    ...{ least: 1, most: 2, named: ['along'] },
    build: (planning, call) =>
      number(position(planning, call, 'next', { along: 'across', count: call.args[1] ? countArgument(planning, call.args[1]) : 1 })),
  },
  difference: {
    group: 'Position',
    signature: 'difference(measure, along: across)',
    about: 'The difference to the neighbour before.',
    example: 'difference(net_sales)',
    ...{ least: 1, most: 1, named: ['along'] },
    build: (planning, call) => {
      const before = position(planning, call, 'previous', { along: 'across' });
      return number(apply('-', before.operand, before));
    },
  },
  level_is: {
    group: 'Conditions',
    signature: 'level_is(level)',
    about: 'Whether the cell is of this level.',
    example: 'if(level_is(country), share(net_sales), rank(net_sales))',
    ...{ least: 1, most: 1, named: [] },
    build: (planning, { args }) => boolean({ kind: 'levelIs', field: levelNamed(planning, nameArgument(planning, args[0])) }),
  },
  is_total: {
    group: 'Conditions',
    signature: 'is_total(down)',
    about: 'Whether the cell is in a total: of the rows (down), of the columns (across), or of either.',
    example: 'if(is_total(), null, rank(net_sales))',
    ...{ least: 0, most: 1, named: [] },
    build: (planning, { args }) => {
      if (args.length === 0) return boolean({ kind: 'isTotal', axes: ['side', 'top'] });
      const { name, span } = nameArgument(planning, args[0]);
      const axis = Object.hasOwn(AXES, name.toLowerCase()) ? AXES[name.toLowerCase() as 'down'] : undefined;
      if (!axis) throw new FormulaError({ code: 'word-expected', span, subject: 'is_total', hint: 'down or across' });
      return boolean({ kind: 'isTotal', axes: [axis] });
    },
  },
};
