import { parseIsoDate } from '../calendar/index.ts';
import { scalarNamed, type AggregateCall, type RecordExpression, type ScalarName } from '../engine/index.ts';
import {
  AGGREGATE_NAMES,
  AGGREGATES,
  aggregateTraits,
  derivedOf,
  factKnows,
  fieldPlace,
  findField,
  findMeasure,
  isAggregate,
  type AggregateName,
  type Dataset,
  type Fact,
} from '../model/index.ts';
import { CELL_FUNCTIONS, durationOf, levelNamed, placeOf, type CellPlanning, type TypedCell } from './cell-functions.ts';
import { everyPart, workOf, type Cell, type CellType } from './cell.ts';
import { knownNames, quoted, type FormulaContext } from './conditions.ts';
import { chainOf } from './measure-chains.ts';
import { nearestName } from './names.ts';
import { parseFormula } from './parse.ts';
import { promptCell } from './prompt-values.ts';
import { conditionOf, fieldsInCondition, fieldsRead, recordNumber, recordOf } from './records.ts';
import { isScalarFunction, SCALAR_FUNCTIONS } from './scalar-functions.ts';
import { FormulaError, type Span, type Syntax } from './syntax.ts';
import { commonType, requireCount, requireType, type TypedRecord } from './types.ts';

/** An aggregate over the records of one fact. */
export interface FactAggregate {
  fact: string;
  call: AggregateCall;
}

/** A measure formula, checked and planned. */
export interface MeasurePlan {
  cell: Cell;
  type: CellType;
  /** Every aggregate that it reads, wherever it is calculated, each once. */
  aggregates: FactAggregate[];
}

interface Planning extends FormulaContext {
  /** The fact the measure is declared for. */
  fact: Fact | undefined;
}

type CallSyntax = Extract<Syntax, { kind: 'call' }>;

/**
 * Plans a formula with one value per cell. `factName` is the fact of aggregates that could be of any, such as `count()`.
 * Throws FormulaError with the place of what is wrong.
 */
export function planFormula(dataset: Dataset, text: string, factName?: string): MeasurePlan {
  return measurePlan(planText(dataset, text, factName));
}

/** Plans a measure of a dataset by name; remembered per dataset. Throws UnknownNameError or FormulaError. */
export function planMeasure(dataset: Dataset, name: string): MeasurePlan {
  return derivedOf(dataset, `plan of ${name.toLowerCase()}`, () => measurePlan(planNamed(dataset, name, { from: 0, to: 0 })));
}

function measurePlan({ cell, type }: TypedCell): MeasurePlan {
  const aggregates = new Map<string, FactAggregate>();
  for (const part of everyPart(cell))
    if (part.kind === 'aggregate') aggregates.set(JSON.stringify([part.fact, part.call]), { fact: part.fact, call: part.call });
  return { cell, type, aggregates: [...aggregates.values()] };
}

function planText(dataset: Dataset, text: string, factName: string | undefined): TypedCell {
  const fact = dataset.facts.find((one) => one.name === factName);
  const syntax = parseFormula(text);
  const typed = planCell({ dataset, text, fact }, syntax);
  if (workOf(typed.cell) > MOST_PARTS) throw new FormulaError({ code: 'too-large', span: syntax.span, subject: String(MOST_PARTS) });
  if (typed.type === 'boolean') throw new FormulaError({ code: 'condition-as-value', span: syntax.span, subject: text });
  return typed;
}

/** As much work is done for a cell, that of the measures it names included: see `workOf`. */
const MOST_PARTS = 20_000;
/** As many measures name each other one after the other. */
const MOST_MEASURES_DEEP = 100;

function planNamed(dataset: Dataset, name: string, span: Span): TypedCell {
  const measure = findMeasure(dataset, name);
  if (!measure) throw new FormulaError({ code: 'unknown-name', span, subject: name, hint: nearestName(name, knownNames(dataset)) });
  const chain = chainOf(dataset, measure.name);
  if ('ring' in chain) throw new FormulaError({ code: 'cycle', span, subject: ringInWords(ringFrom(chain.ring, measure.name)) });
  if (chain.depth > MOST_MEASURES_DEEP) throw new FormulaError({ code: 'too-deep', span, subject: String(MOST_MEASURES_DEEP) });
  // Planned once, however many measures name it, and so is what is wrong with it.
  const planned = derivedOf(dataset, `cell of ${measure.name.toLowerCase()}`, (): TypedCell | FormulaError => {
    try {
      const { cell, type } = planText(dataset, measure.formula, measure.fact);
      return { cell: { kind: 'measure', name: measure.name, cell }, type };
    } catch (error) {
      if (error instanceof FormulaError) return error;
      throw error;
    }
  });
  if (planned instanceof FormulaError) throw planned;
  return planned;
}

/** A ring of measures, beginning with one of them where it is among them. */
function ringFrom(ring: string[], name: string): string[] {
  const at = ring.indexOf(name);
  return at <= 0 ? ring : [...ring.slice(at, -1), ...ring.slice(0, at), name];
}

/** As many measures of a ring are named. */
const MOST_NAMED = 20;

const ringInWords = (ring: string[]): string =>
  (ring.length > MOST_NAMED ? [...ring.slice(0, MOST_NAMED - 1), '…', ring.at(-1)] : ring).join(' → ');

const NOTHING: TypedCell = { cell: { kind: 'constant', value: null }, type: 'number' };

function planCell(planning: Planning, node: Syntax): TypedCell {
  const plan = (part: Syntax): TypedCell => planCell(planning, part);
  const wrong = (code: 'not-a-condition' | 'not-a-number'): FormulaError =>
    new FormulaError({ code, span: node.span, subject: quoted(planning, node.span) });
  switch (node.kind) {
    case 'number':
      return { cell: { kind: 'constant', value: Number(node.text) }, type: 'number' };
    case 'text':
      return { cell: { kind: 'constant', value: node.value }, type: 'text' };
    case 'boolean':
      return { cell: { kind: 'constant', value: Number(node.value) }, type: 'boolean' };
    case 'date': {
      const day = parseIsoDate(node.value);
      if (day === undefined)
        throw new FormulaError({ code: 'value-expected', span: node.span, subject: node.value, hint: 'date such as 2026-10-31' });
      return { cell: { kind: 'constant', value: day }, type: 'date' };
    }
    case 'null':
      return NOTHING;
    case 'negative':
      return planScalar(planning, 'negate', [node.operand], node);
    case 'binary':
      return planScalar(planning, node.op, [node.left, node.right], node);
    case 'comparison':
      return planScalar(planning, node.op, [node.left, node.right], node);
    case 'and':
    case 'or':
      return planScalar(planning, node.kind, [node.left, node.right], node);
    case 'not':
      return planScalar(planning, 'not', [node.operand], node);
    case 'isNull':
      return negated(planScalar(planning, 'missing', [node.operand], node), node.negated);
    case 'like': {
      const pattern: Syntax = { kind: 'text', value: node.pattern, span: node.span };
      return negated(planScalar(planning, 'like', [node.operand, pattern], node), node.negated);
    }
    case 'between': {
      const operand = written(planning, node.operand);
      const low = scalarOf(planning, '>=', [operand, written(planning, node.low)], node);
      const high = scalarOf(planning, '<=', [operand, written(planning, node.high)], node);
      return negated({ cell: { kind: 'apply', fn: 'and', args: [low.cell, high.cell] }, type: 'boolean' }, node.negated);
    }
    case 'in': {
      const operand = written(planning, node.operand);
      const [first, ...others] = node.items.map((item) => scalarOf(planning, '=', [operand, written(planning, item)], node).cell);
      const any = others.reduce<Cell>((cell, other) => ({ kind: 'apply', fn: 'or', args: [cell, other] }), first);
      return negated({ cell: any, type: 'boolean' }, node.negated);
    }
    case 'case': {
      const branches = node.branches.map(({ when, then }) => ({ when, then }));
      return planChoice(planning, branches, node.otherwise, node);
    }
    case 'name':
      if (findMeasure(planning.dataset, node.name)) return planNamed(planning.dataset, node.name, node.span);
      if (findField(planning.dataset, node.name))
        throw new FormulaError({ code: 'record-value-in-measure', span: node.span, subject: node.name });
      throw new FormulaError({
        ...{ code: 'unknown-name', span: node.span, subject: node.name },
        hint: nearestName(node.name, knownNames(planning.dataset)),
      });
    case 'at': {
      const { cell, type } = plan(node.operand);
      return { cell: { kind: 'at', operand: cell, place: placeOf(planning, node.level) }, type };
    }
    case 'back': {
      const { cell, type } = plan(node.operand);
      return { cell: { kind: 'moved', operand: cell, move: { kind: 'back', ...durationOf(planning, node.duration) } }, type };
    }
    case 'call':
      return planCall(planning, node);
    case 'per':
    case 'duration':
      throw wrong('not-a-number');
  }
}

const negated = ({ cell, type }: TypedCell, isNegated: boolean): TypedCell =>
  isNegated ? { cell: { kind: 'apply', fn: 'not', args: [cell] }, type } : { cell, type };

const isNothing = ({ cell }: TypedCell): boolean => cell.kind === 'constant' && cell.value === null;

/** The type that values share; a missing value fits every type. Throws FormulaError. */
const typeOfAll = (planning: Planning, values: TypedCell[], node: Syntax): CellType =>
  commonType(
    planning,
    values.filter((value) => !isNothing(value)).map(({ type }) => type),
    node,
  );

/** A condition among values. Throws FormulaError. */
function planCondition(planning: Planning, node: Syntax): Cell {
  const typed = planCell(planning, node);
  if (typed.type !== 'boolean' && !isNothing(typed))
    throw new FormulaError({ code: 'not-a-condition', span: node.span, subject: quoted(planning, node.span) });
  return typed.cell;
}

function planChoice(planning: Planning, written: { when: Syntax; then: Syntax }[], otherwise: Syntax | null, node: Syntax): TypedCell {
  const branches = written.map(({ when, then }) => ({ when: planCondition(planning, when), then: planCell(planning, then) }));
  const last = otherwise ? planCell(planning, otherwise) : null;
  const type = typeOfAll(planning, [...branches.map(({ then }) => then), ...(last ? [last] : [])], node);
  return {
    type,
    cell: { kind: 'choose', branches: branches.map(({ when, then }) => ({ when, then: then.cell })), otherwise: last?.cell ?? null },
  };
}

/** A part as it is written, planned once however often it is used. */
interface WrittenPart {
  node: Syntax;
  typed: TypedCell;
}
const written = (planning: Planning, node: Syntax): WrittenPart => ({ node, typed: planCell(planning, node) });

const planScalar = (planning: Planning, fn: ScalarName, parts: Syntax[], node: Syntax): TypedCell =>
  scalarOf(
    planning,
    fn,
    parts.map((part) => written(planning, part)),
    node,
  );

function scalarOf(planning: Planning, fn: ScalarName, parts: WrittenPart[], node: Syntax): TypedCell {
  const scalar = scalarNamed(fn);
  requireCount(fn, scalar, parts.length, node);
  const args = parts.map(({ typed }) => typed);
  const common = scalar.takes[0] === 'any' ? typeOfAll(planning, args, node) : undefined;
  parts.forEach((part, index) => isNothing(part.typed) || requireType(planning, scalar, index, part.node, part.typed.type));
  return { cell: { kind: 'apply', fn, args: args.map(({ cell }) => cell) }, type: scalar.gives === 'same' ? common! : scalar.gives };
}

/** Sums of one day of the cell's dates: the first or the last that has records. */
const BALANCES: Record<string, 'first' | 'last'> = { opening: 'first', closing: 'last' };

function planCall(planning: Planning, node: CallSyntax): TypedCell {
  if (isAggregate(node.name)) {
    const [first] = node.args;
    return first?.kind === 'per' ? planPer(planning, node.name, node, first) : planAggregate(planning, node.name, node);
  }
  if (Object.hasOwn(BALANCES, node.name)) {
    const { cell, type } = planAggregate(planning, 'sum', node);
    return { cell: { kind: 'moved', operand: cell, move: { kind: 'edge', edge: BALANCES[node.name] } }, type };
  }
  if (node.name === 'prompt') return promptCell(planning, node);
  if (node.where) throw new FormulaError({ code: 'condition-outside-aggregate', span: node.where.span, subject: node.name });
  const own = Object.hasOwn(CELL_FUNCTIONS, node.name) ? CELL_FUNCTIONS[node.name] : undefined;
  const unknown = node.named.find(({ name }) => !own?.named.includes(name));
  if (unknown && (own || isScalarFunction(node.name) || node.name === 'if'))
    throw new FormulaError({ code: 'unknown-argument', span: unknown.span, subject: unknown.name, hint: own?.signature });
  if (own) {
    if (node.args.length < own.least || node.args.length > own.most)
      throw new FormulaError({ code: 'argument-count', span: node.span, subject: node.name, hint: `its arguments as in ${own.example}` });
    return own.build(planningOf(planning), node);
  }
  if (node.name === 'if') {
    const [when, then, otherwise] = node.args;
    if (node.args.length !== 3)
      throw new FormulaError({
        code: 'argument-count',
        span: node.span,
        subject: 'if',
        hint: 'a condition and two values, as in if(a > b, a, b)',
      });
    return planChoice(planning, [{ when, then }], otherwise, node);
  }
  if (isScalarFunction(node.name)) return planScalar(planning, node.name, node.args, node);
  throw new FormulaError({
    ...{ code: 'unknown-function', span: node.span, subject: node.name },
    hint: nearestName(node.name, [
      'if',
      'prompt',
      ...Object.keys(BALANCES),
      ...Object.keys(SCALAR_FUNCTIONS),
      ...Object.keys(CELL_FUNCTIONS),
      ...AGGREGATE_NAMES,
    ]),
  });
}

function planningOf(planning: Planning): CellPlanning {
  const plan = (node: Syntax): TypedCell => planCell(planning, node);
  return {
    ...planning,
    plan,
    number(node) {
      const typed = plan(node);
      if (typed.type === 'number' || isNothing(typed)) return typed.cell;
      throw new FormulaError({ code: 'not-a-number', span: node.span, subject: quoted(planning, node.span) });
    },
    datesOf: (span) => datesOf(planning, span),
  };
}

/** The fact whose dates count: the declared one, else the first that is linked to a calendar. */
function datesOf({ dataset, fact }: Planning, span: Span): string {
  const hasDates = (one: Fact): boolean =>
    one.links.some((link) => dataset.dimensions.some(({ name, kind }) => kind === 'calendar' && name === link.dimension));
  const found = fact && hasDates(fact) ? fact : dataset.facts.find(hasDates);
  if (!found) throw new FormulaError({ code: 'no-fact', span, subject: 'periods' });
  return found.name;
}

function planPer(planning: Planning, fn: AggregateName, node: CallSyntax, per: Extract<Syntax, { kind: 'per' }>): TypedCell {
  if (!aggregateTraits(fn).overMembers || (!per.operand && fn !== 'count'))
    throw new FormulaError({ code: 'not-a-member-aggregate', span: node.span, subject: per.operand ? fn : `${fn} without a measure` });
  const most = fn === 'percentile' ? 2 : 1;
  if (node.args.length !== most)
    throw new FormulaError({ code: 'argument-count', span: node.span, subject: fn, hint: AGGREGATES[fn].takes });
  if (node.named.length > 0) throw new FormulaError({ code: 'unknown-argument', span: node.named[0].span, subject: node.named[0].name });
  const inner = planningOf(planning);
  const operand = per.operand ? inner.number(per.operand) : null;
  const where = node.where ? planCondition(planning, node.where) : null;
  const fields = per.levels.map((level) => levelNamed(planning, level));
  const read = [...(operand ? everyPart(operand) : []), ...(where ? everyPart(where) : [])];
  const facts = [...new Set(read.flatMap((part) => (part.kind === 'aggregate' ? [part.fact] : [])))];
  return {
    type: 'number',
    cell: {
      ...{ kind: 'per', fn, operand, where, fields },
      fraction: fn === 'percentile' ? fractionOf(planning, node.args[1]) : 0.5,
      facts: facts.length > 0 ? facts : [factKnowing(planning, fields, node.span).name],
    },
  };
}

function planAggregate(planning: Planning, fn: AggregateName, node: CallSyntax): TypedCell {
  const { least, most, takes } = AGGREGATES[fn];
  if (node.args.length < least || node.args.length > most) {
    throw new FormulaError({ code: 'argument-count', span: node.span, subject: fn, hint: takes });
  }
  const weight = node.named.find(({ name }) => name === 'weight');
  const unknown = node.named.find((one) => one !== weight || fn !== 'avg');
  if (unknown) throw new FormulaError({ code: 'unknown-argument', span: unknown.span, subject: unknown.name, hint: takes });
  const argument = node.args[0] ? argumentOf(planning, node.args[0], AGGREGATES[fn].readsNumbers) : null;
  const call: AggregateCall = { fn, argument: argument?.expression ?? null, where: node.where ? conditionOf(planning, node.where) : null };
  if (fn === 'percentile') call.fraction = fractionOf(planning, node.args[1]);
  const type = AGGREGATES[fn].keepsType && argument && argument.type !== 'boolean' ? argument.type : 'number';
  if (weight) return { type, cell: weightedAverage(planning, call, recordNumber(planning, weight.value), node.span) };
  return { type, cell: { kind: 'aggregate', fact: factOf(planning, call, node.span).name, call } };
}

/** The sum of values times weights over the sum of the weights that have a value. */
function weightedAverage(planning: Planning, { argument, where }: AggregateCall, weight: RecordExpression, span: Span): Cell {
  const times = (left: RecordExpression, right: RecordExpression): RecordExpression => ({ kind: 'arithmetic', op: '*', left, right });
  const nothing: RecordExpression = { kind: 'constant', value: 0, scale: 0 };
  // A missing value makes its weight missing too.
  const counted: RecordExpression = { kind: 'arithmetic', op: '+', left: weight, right: times(argument!, nothing) };
  const [sum, weights] = [times(argument!, weight), counted].map((own): Cell => {
    const call: AggregateCall = { fn: 'sum', argument: own, where };
    return { kind: 'aggregate', fact: factOf(planning, call, span).name, call };
  });
  return { kind: 'apply', fn: '/', args: [sum, weights] };
}

/** What an aggregate reads: numbers where it calculates with them, any value where it counts or compares. */
function argumentOf(planning: Planning, node: Syntax, readsNumbers: boolean): TypedRecord {
  const typed = recordOf(planning, node);
  // Yes and no are 1 and 0 to those that calculate.
  if (!readsNumbers || typed.type === 'number' || (typed.type === 'boolean' && typed.expression.kind === 'field')) return typed;
  throw new FormulaError({ code: 'not-a-number', span: node.span, subject: quoted(planning, node.span) });
}

function fractionOf(planning: Planning, node: Syntax): number {
  const fraction = node.kind === 'number' ? Number(node.text) : Number.NaN;
  if (!(fraction >= 0 && fraction <= 1)) {
    throw new FormulaError({ code: 'fraction-out-of-range', span: node.span, subject: quoted(planning, node.span) });
  }
  return fraction;
}

/** The fact an aggregate reads. */
const factOf = (planning: Planning, call: AggregateCall, span: Span): Fact =>
  factKnowing(planning, [...fieldsRead(call.argument), ...fieldsInCondition(call.where)], span);

/** The fact that fields are read from: their own, else the declared one, else the only one that knows them all. */
function factKnowing(planning: Planning, fields: string[], span: Span): Fact {
  const { dataset } = planning;
  const owners = new Set<Fact>();
  for (const field of fields) {
    const place = fieldPlace(dataset, field);
    if (place.kind === 'fact') owners.add(place.fact);
  }
  if (owners.size > 1) throw new FormulaError({ code: 'several-facts', span, subject: fields.join(' and ') });
  const [owner] = owners;
  const candidates = dataset.facts.filter((fact) => fields.every((field) => factKnows(dataset, fact, field)));
  const fact = owner ?? planning.fact ?? (candidates.length === 1 ? candidates[0] : undefined);
  if (!fact || !candidates.includes(fact)) throw new FormulaError({ code: 'no-fact', span, subject: quoted(planning, span) });
  return fact;
}
