import type { AggregateCall, ArithmeticOperator, RecordExpression } from '../engine/index.ts';
import {
  AGGREGATES,
  derivedOf,
  factKnows,
  fieldPlace,
  fieldsOf,
  findField,
  findMeasure,
  isAggregate,
  type AggregateName,
  type Dataset,
  type Fact,
} from '../model/index.ts';
import { conditionOf, knownNames, quoted, type FormulaContext } from './conditions.ts';
import { nearestName } from './names.ts';
import { parseFormula } from './parse.ts';
import { recordExpressionOf } from './records.ts';
import { FormulaError, type Span, type Syntax } from './syntax.ts';

/** An aggregate over the records of one fact. */
export interface FactAggregate {
  fact: string;
  call: AggregateCall;
}

/** One value per cell, worked out from aggregates of the cell's records. */
export type CellExpression =
  | { kind: 'aggregate'; index: number }
  | { kind: 'constant'; value: number }
  | { kind: 'negate'; operand: CellExpression }
  | { kind: 'arithmetic'; op: ArithmeticOperator; left: CellExpression; right: CellExpression }
  | { kind: 'coalesce'; items: CellExpression[] };

/** A measure, planned: which aggregates it needs and what it makes of them. */
export interface MeasurePlan {
  expression: CellExpression;
  aggregates: FactAggregate[];
}

interface Planning extends FormulaContext {
  /** The fact the measure is declared for. */
  fact: Fact | undefined;
  aggregates: FactAggregate[];
  /** Measures being planned, outermost first, to find cycles. */
  path: string[];
}

/**
 * Plans a formula with one value per cell. `factName` is the fact of aggregates that could be of any, such as `count()`.
 * Throws FormulaError with the place of what is wrong.
 */
export function planFormula(dataset: Dataset, text: string, factName?: string): MeasurePlan {
  const aggregates: FactAggregate[] = [];
  const expression = planText(dataset, text, factName, aggregates, []);
  return { expression, aggregates };
}

function planText(
  dataset: Dataset,
  text: string,
  factName: string | undefined,
  aggregates: FactAggregate[],
  path: string[],
): CellExpression {
  const fact = dataset.facts.find((one) => one.name === factName);
  return planCell({ dataset, text, fact, aggregates, path }, parseFormula(text));
}

/** Plans a measure of a dataset by name; remembered per dataset. Throws UnknownNameError or FormulaError. */
export function planMeasure(dataset: Dataset, name: string): MeasurePlan {
  return derivedOf(dataset, `plan of ${name.toLowerCase()}`, () => {
    const aggregates: FactAggregate[] = [];
    return { expression: planNamed(dataset, name, { from: 0, to: 0 }, aggregates, []), aggregates };
  });
}

function planNamed(dataset: Dataset, name: string, span: Span, aggregates: FactAggregate[], path: string[]): CellExpression {
  const measure = findMeasure(dataset, name);
  if (!measure) throw new FormulaError({ code: 'unknown-name', span, subject: name, hint: nearestName(name, knownNames(dataset)) });
  if (path.includes(measure.name)) {
    throw new FormulaError({ code: 'cycle', span, subject: [...path.slice(path.indexOf(measure.name)), measure.name].join(' → ') });
  }
  return planText(dataset, measure.formula, measure.fact, aggregates, [...path, measure.name]);
}

function planCell(planning: Planning, node: Syntax): CellExpression {
  const plan = (part: Syntax): CellExpression => planCell(planning, part);
  switch (node.kind) {
    case 'number':
      return { kind: 'constant', value: Number(node.text) };
    case 'negative':
      return { kind: 'negate', operand: plan(node.operand) };
    case 'binary':
      return { kind: 'arithmetic', op: node.op, left: plan(node.left), right: plan(node.right) };
    case 'name':
      if (findMeasure(planning.dataset, node.name)) {
        return planNamed(planning.dataset, node.name, node.span, planning.aggregates, planning.path);
      }
      if (findField(planning.dataset, node.name)) {
        throw new FormulaError({ code: 'record-value-in-measure', span: node.span, subject: node.name });
      }
      throw new FormulaError({
        code: 'unknown-name',
        span: node.span,
        subject: node.name,
        hint: nearestName(node.name, knownNames(planning.dataset)),
      });
    case 'call':
      if (isAggregate(node.name)) return planAggregate(planning, node.name, node);
      if (node.where) throw new FormulaError({ code: 'condition-outside-aggregate', span: node.where.span, subject: node.name });
      if (node.name === 'coalesce' && node.args.length > 0) return { kind: 'coalesce', items: node.args.map(plan) };
      throw new FormulaError({
        code: 'unknown-function',
        span: node.span,
        subject: node.name,
        hint: nearestName(node.name, ['coalesce', ...Object.keys(AGGREGATES)]),
      });
    default:
      throw new FormulaError({ code: 'not-a-number', span: node.span, subject: quoted(planning, node.span) });
  }
}

function planAggregate(planning: Planning, fn: AggregateName, node: Extract<Syntax, { kind: 'call' }>): CellExpression {
  const { least, most, takes } = AGGREGATES[fn];
  if (node.args.length < least || node.args.length > most) {
    throw new FormulaError({ code: 'argument-count', span: node.span, subject: fn, hint: takes });
  }
  const call: AggregateCall = {
    fn,
    argument: node.args[0] ? recordExpressionOf(planning, node.args[0]) : null,
    where: node.where ? conditionOf(planning, node.where) : null,
  };
  if (!AGGREGATES[fn].counts) requireNumber(planning, node.args[0]);
  if (fn === 'percentile') call.fraction = fractionOf(planning, node.args[1]);
  const fact = factOf(planning, call, node.span);
  const id = JSON.stringify([fact.name, call]);
  let index = planning.aggregates.findIndex((one) => JSON.stringify([one.fact, one.call]) === id);
  if (index < 0) index = planning.aggregates.push({ fact: fact.name, call }) - 1;
  return { kind: 'aggregate', index };
}

/** Cells hold numbers: a text or a date can be counted there, but not be a cell's value. */
function requireNumber(planning: Planning, argument: Syntax): void {
  if (argument.kind !== 'name') return;
  const type = findField(planning.dataset, argument.name)?.type;
  if (type === 'text' || type === 'date' || type === 'datetime') {
    throw new FormulaError({ code: 'not-a-number', span: argument.span, subject: argument.name });
  }
}

function fractionOf(planning: Planning, node: Syntax): number {
  const fraction = node.kind === 'number' ? Number(node.text) : Number.NaN;
  if (!(fraction >= 0 && fraction <= 1)) {
    throw new FormulaError({ code: 'fraction-out-of-range', span: node.span, subject: quoted(planning, node.span) });
  }
  return fraction;
}

function fieldsRead(expression: RecordExpression | null): string[] {
  if (!expression) return [];
  switch (expression.kind) {
    case 'constant':
      return [];
    case 'field':
      return [expression.name];
    case 'negate':
      return fieldsRead(expression.operand);
    case 'arithmetic':
      return [...fieldsRead(expression.left), ...fieldsRead(expression.right)];
    case 'coalesce':
      return expression.items.flatMap(fieldsRead);
    case 'choose':
      return [...fieldsOf(expression.when), ...fieldsRead(expression.then), ...fieldsRead(expression.otherwise)];
  }
}

/** The fact an aggregate reads: that of its own fields, else the declared one, else the only one that knows all fields. */
function factOf(planning: Planning, call: AggregateCall, span: Span): Fact {
  const { dataset } = planning;
  const fields = [...fieldsRead(call.argument), ...fieldsOf(call.where)];
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

/** Works out a planned expression; NaN is "no value", as is any division by zero. */
export function evaluateCell(expression: CellExpression, aggregate: (index: number) => number): number {
  switch (expression.kind) {
    case 'aggregate':
      return aggregate(expression.index);
    case 'constant':
      return expression.value;
    case 'negate':
      return -evaluateCell(expression.operand, aggregate);
    case 'coalesce': {
      for (const item of expression.items) {
        const value = evaluateCell(item, aggregate);
        if (!Number.isNaN(value)) return value;
      }
      return Number.NaN;
    }
    case 'arithmetic': {
      const left = evaluateCell(expression.left, aggregate);
      const right = evaluateCell(expression.right, aggregate);
      const value = calculate(expression.op, left, right);
      return Number.isFinite(value) ? value : Number.NaN;
    }
  }
}

function calculate(op: ArithmeticOperator, left: number, right: number): number {
  switch (op) {
    case '+':
      return left + right;
    case '-':
      return left - right;
    case '*':
      return left * right;
    case '/':
      return left / right;
    case '%':
      return left % right;
    case '^':
      return left ** right;
  }
}
