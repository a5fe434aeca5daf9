import { parseIsoDate } from '../calendar/index.ts';
import {
  scalarNamed,
  typeOfExpression,
  type RecordCondition,
  type RecordExpression,
  type Scalar,
  type RecordScalarName,
  type ScalarType,
} from '../engine/index.ts';
import { AGGREGATE_NAMES, fieldsOf, findField, findMeasure, isAggregate } from '../model/index.ts';
import { filterOf, quoted, resolveField, type FormulaContext } from './conditions.ts';
import { nearestName } from './names.ts';
import { promptRecord } from './prompt-values.ts';
import { isScalarFunction, SCALAR_FUNCTIONS } from './scalar-functions.ts';
import { FormulaError, type Syntax } from './syntax.ts';
import { commonType, requireCount, requireType, type TypedRecord } from './types.ts';

function constantOf(text: string): RecordExpression {
  const scale = text.includes('.') ? text.length - text.indexOf('.') - 1 : 0;
  return { kind: 'constant', value: Number(text), scale };
}

/** A formula with one value per record. Throws FormulaError. */
export function recordOf(context: FormulaContext, node: Syntax): TypedRecord {
  const apply = (fn: RecordScalarName, parts: Syntax[]): TypedRecord =>
    applied(
      context,
      fn,
      parts.map((part) => ({ part, ...recordOf(context, part) })),
      node,
    );
  const negated = (typed: TypedRecord, isNegated: boolean): TypedRecord =>
    isNegated ? { type: 'boolean', expression: { kind: 'apply', fn: 'not', args: [typed.expression], scale: 0 } } : typed;
  switch (node.kind) {
    case 'number':
      return { expression: constantOf(node.text), type: 'number' };
    case 'text':
      return { expression: { kind: 'text', value: node.value }, type: 'text' };
    case 'boolean':
      return { expression: { kind: 'boolean', value: node.value }, type: 'boolean' };
    case 'date': {
      const day = parseIsoDate(node.value);
      if (day === undefined)
        throw new FormulaError({ code: 'value-expected', span: node.span, subject: node.value, hint: 'date such as 2026-10-31' });
      return { expression: { kind: 'date', day }, type: 'date' };
    }
    case 'name': {
      if (!findField(context.dataset, node.name) && findMeasure(context.dataset, node.name)) {
        throw new FormulaError({ code: 'aggregate-in-record', span: node.span, subject: node.name });
      }
      const expression: RecordExpression = { kind: 'field', name: resolveField(context, node.name, node.span) };
      return { expression, type: typeOfExpression(context.dataset, expression) };
    }
    case 'negative':
      return { expression: { kind: 'negate', operand: recordNumber(context, node.operand) }, type: 'number' };
    case 'binary': {
      if (node.op === '||') return apply('||', [node.left, node.right]);
      const [left, right] = [recordNumber(context, node.left), recordNumber(context, node.right)];
      return { expression: { kind: 'arithmetic', op: node.op, left, right }, type: 'number' };
    }
    case 'comparison':
      return apply(node.op, [node.left, node.right]);
    case 'and':
    case 'or':
      return apply(node.kind, [node.left, node.right]);
    case 'not':
      return apply('not', [node.operand]);
    case 'isNull':
      return negated(apply('missing', [node.operand]), node.negated);
    case 'like':
      return negated(apply('like', [node.operand, { kind: 'text', value: node.pattern, span: node.span }]), node.negated);
    case 'between': {
      const operand = { part: node.operand, ...recordOf(context, node.operand) };
      const side = (op: RecordScalarName, part: Syntax): TypedRecord =>
        applied(context, op, [operand, { part, ...recordOf(context, part) }], node);
      const args = [side('>=', node.low).expression, side('<=', node.high).expression];
      return negated({ type: 'boolean', expression: { kind: 'apply', fn: 'and', args, scale: 0 } }, node.negated);
    }
    case 'in': {
      const operand = { part: node.operand, ...recordOf(context, node.operand) };
      const [first, ...others] = node.items.map(
        (part) => applied(context, '=', [operand, { part, ...recordOf(context, part) }], node).expression,
      );
      const any = others.reduce<RecordExpression>((before, other) => ({ kind: 'apply', fn: 'or', args: [before, other], scale: 0 }), first);
      return negated({ type: 'boolean', expression: any }, node.negated);
    }
    case 'case':
      return chosen(context, node.branches, node.otherwise, node);
    case 'call':
      return calledRecord(context, node);
    default:
      throw new FormulaError({ code: 'not-a-number', span: node.span, subject: quoted(context, node.span) });
  }
}

/** A formula with one number per record. Throws FormulaError. */
export function recordNumber(context: FormulaContext, node: Syntax): RecordExpression {
  const { expression, type } = recordOf(context, node);
  // Yes and no are 1 and 0.
  if (type === 'number' || (type === 'boolean' && expression.kind === 'field')) return expression;
  throw new FormulaError({ code: 'not-a-number', span: node.span, subject: quoted(context, node.span) });
}

/** A condition on a record: as documents have them where that is enough, else as an expression. Throws FormulaError. */
export function conditionOf(context: FormulaContext, node: Syntax): RecordCondition {
  try {
    return filterOf(context, node);
  } catch (error) {
    if (!(error instanceof FormulaError) || !['not-a-condition', 'literal-expected'].includes(error.problem.code)) throw error;
    const { expression, type } = recordOf(context, node);
    if (type === 'boolean') return { op: 'test', expression };
    throw new FormulaError({ code: 'not-a-condition', span: node.span, subject: quoted(context, node.span) });
  }
}

function chosen(context: FormulaContext, branches: { when: Syntax; then: Syntax }[], otherwise: Syntax | null, node: Syntax): TypedRecord {
  const parts = branches.map(({ when, then }) => ({ when: conditionOf(context, when), then: recordOf(context, then) }));
  const last = otherwise && otherwise.kind !== 'null' ? recordOf(context, otherwise) : null;
  const type = typeOfAll(context, [...parts.map(({ then }) => then), ...(last ? [last] : [])], node);
  const expression = parts.reduceRight<RecordExpression | null>(
    (rest, { when, then }) => ({ kind: 'choose', when, then: then.expression, otherwise: rest }),
    last?.expression ?? null,
  )!;
  return { expression, type };
}

const typeOfAll = (context: FormulaContext, parts: readonly TypedRecord[], node: Syntax): ScalarType =>
  commonType(
    context,
    parts.map(({ type }) => type),
    node,
  );

/** A function of values of a record, whose arguments have to be of its types. */
function applied(context: FormulaContext, fn: RecordScalarName, parts: (TypedRecord & { part: Syntax })[], node: Syntax): TypedRecord {
  const scalar = scalarNamed(fn);
  requireCount(fn, scalar, parts.length, node);
  const common = scalar.takes[0] === 'any' ? typeOfAll(context, parts, node) : undefined;
  parts.forEach(({ part, type }, index) => requireType(context, scalar, index, part, type));
  if (scalar.words) requireWord(fn, scalar.words, parts[0].part);
  const args = parts.map(({ expression }) => expression);
  return { type: scalar.gives === 'same' ? common! : scalar.gives, expression: { kind: 'apply', fn, args, scale: scaleOf(scalar, args) } };
}

/** Digits after the point of what a function gives, where they are known before. */
function scaleOf({ scale, gives }: Scalar, args: RecordExpression[]): number | null {
  if (scale !== 'second') return scale ?? (gives === 'boolean' ? 0 : null);
  const digits = args.length === 1 ? 0 : args[1].kind === 'constant' ? args[1].value : Number.NaN;
  return Number.isInteger(digits) && digits <= 6 ? Math.max(0, digits) : null;
}

function requireWord(fn: string, words: readonly string[], part: Syntax): void {
  if (part.kind === 'text' && words.includes(part.value)) return;
  const hint = words.map((word) => `'${word}'`).join(', ');
  throw new FormulaError({ code: 'word-expected', span: part.span, subject: fn, hint });
}

function calledRecord(context: FormulaContext, node: Extract<Syntax, { kind: 'call' }>): TypedRecord {
  const { name, args } = node;
  if (name === 'prompt') return promptRecord(context, node);
  if (node.named.length > 0) throw new FormulaError({ code: 'unknown-argument', span: node.named[0].span, subject: node.named[0].name });
  if (name === 'if') {
    if (args.length !== 3)
      throw new FormulaError({
        ...{ code: 'argument-count', span: node.span, subject: 'if' },
        hint: 'a condition and two values, as in if(quantity > 1, quantity, 0)',
      });
    return chosen(context, [{ when: args[0], then: args[1] }], args[2], node);
  }
  if (isScalarFunction(name)) {
    const parts = args.map((part) => ({ part, ...recordOf(context, part) }));
    // Numbers keep their digits where the first that there is is taken.
    if (name === 'coalesce' && parts.length > 0 && parts.every(({ type }) => type === 'number'))
      return { type: 'number', expression: { kind: 'coalesce', items: parts.map(({ expression }) => expression) } };
    return applied(context, name, parts, node);
  }
  if (isAggregate(name)) throw new FormulaError({ code: 'aggregate-in-record', span: node.span, subject: quoted(context, node.span) });
  throw new FormulaError({
    ...{ code: 'unknown-function', span: node.span, subject: name },
    hint: nearestName(name, ['if', 'prompt', ...Object.keys(SCALAR_FUNCTIONS), ...AGGREGATE_NAMES]),
  });
}

/** The fields that a record formula reads. */
export function fieldsRead(expression: RecordExpression | null): string[] {
  if (!expression) return [];
  switch (expression.kind) {
    case 'field':
      return [expression.name];
    case 'negate':
      return fieldsRead(expression.operand);
    case 'arithmetic':
      return [...fieldsRead(expression.left), ...fieldsRead(expression.right)];
    case 'coalesce':
      return expression.items.flatMap(fieldsRead);
    case 'apply':
      return expression.args.flatMap(fieldsRead);
    case 'choose':
      return [...fieldsInCondition(expression.when), ...fieldsRead(expression.then), ...fieldsRead(expression.otherwise)];
    default:
      return [];
  }
}

/** The fields that a condition on records reads. */
export const fieldsInCondition = (condition: RecordCondition | null): string[] =>
  condition?.op === 'test' ? fieldsRead(condition.expression) : fieldsOf(condition);
