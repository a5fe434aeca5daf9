import { typeOfExpression, type ScalarType } from '../engine/index.ts';
import { fieldPlace, findField, type Dataset, type Filter, type Literal } from '../model/index.ts';
import { nearestName } from './names.ts';
import { typesInWords } from './type-words.ts';
import { FormulaError, type ComparisonOperator, type Span, type Syntax } from './syntax.ts';

const OPERATORS: Record<ComparisonOperator, 'eq' | 'ne' | 'lt' | 'le' | 'gt' | 'ge'> = {
  '=': 'eq',
  '<>': 'ne',
  '<': 'lt',
  '<=': 'le',
  '>': 'gt',
  '>=': 'ge',
};
const MIRRORED: Record<ComparisonOperator, ComparisonOperator> = { '=': '=', '<>': '<>', '<': '>', '<=': '>=', '>': '<', '>=': '<=' };

export interface FormulaContext {
  dataset: Dataset;
  /** The text the spans point into, for quoting what is wrong. */
  text: string;
}

export const quoted = (context: FormulaContext, span: Span): string => context.text.slice(span.from, span.to);

/** The canonical name of a field. Throws FormulaError with the nearest known name. */
export function resolveField(context: FormulaContext, name: string, span: Span): string {
  const place = findField(context.dataset, name);
  if (!place) throw new FormulaError({ code: 'unknown-name', span, subject: name, hint: nearestName(name, knownNames(context.dataset)) });
  return place.name;
}

/** Every name a formula may use in a dataset. */
export function knownNames(dataset: Dataset): string[] {
  return [
    ...dataset.facts.flatMap((fact) => fact.fields.map((field) => field.name)),
    ...dataset.dimensions.flatMap((dimension) => [
      ...dimension.levels.map((level) => level.name),
      ...(dimension.kind === 'table' ? dimension.attributes.map((field) => field.name) : []),
    ]),
    ...dataset.measures.map((measure) => measure.name),
  ];
}

function literalOf(context: FormulaContext, node: Syntax): Literal {
  switch (node.kind) {
    case 'number':
      return Number(node.text);
    case 'text':
    case 'date':
    case 'boolean':
      return node.value;
    case 'negative':
      if (node.operand.kind === 'number') return -Number(node.operand.text);
  }
  throw new FormulaError({ code: 'literal-expected', span: node.span, subject: quoted(context, node.span) });
}

function fieldOf(context: FormulaContext, node: Syntax): string {
  if (node.kind !== 'name') throw new FormulaError({ code: 'not-a-condition', span: node.span, subject: quoted(context, node.span) });
  return resolveField(context, node.name, node.span);
}

/** What literals a field is compared with: of its own type; of a period also the words or the number that name it. */
function typesOf(context: FormulaContext, field: string): ScalarType[] {
  const place = fieldPlace(context.dataset, field);
  if (place.kind === 'period') return place.level.period === 'day' ? ['date', 'text'] : ['text', 'number'];
  if (place.type === 'datetime') return ['text', 'date'];
  return [typeOfExpression(context.dataset, { kind: 'field', name: field })];
}
const typeOfLiteral = (literal: Literal, node: Syntax): ScalarType =>
  node.kind === 'date' ? 'date' : typeof literal === 'string' ? 'text' : (typeof literal as 'number' | 'boolean');

/** A literal that a field can be compared with. Throws FormulaError. */
function comparable(context: FormulaContext, field: string, node: Syntax, whole: Syntax): Literal {
  const literal = literalOf(context, node);
  const [own, ...others] = typesOf(context, field);
  const type = typeOfLiteral(literal, node);
  if (own !== type && !others.includes(type))
    throw new FormulaError({
      ...{ code: 'types-differ', span: whole.span, subject: quoted(context, whole.span) },
      hint: typesInWords([own, type]),
    });
  return literal;
}

/** A field whose values are texts. Throws FormulaError. */
function textFieldOf(context: FormulaContext, node: Syntax): string {
  const field = fieldOf(context, node);
  if (typesOf(context, field).includes('text')) return field;
  throw new FormulaError({ code: 'value-expected', span: node.span, subject: quoted(context, node.span), hint: 'text' });
}

const negate = (negated: boolean, filter: Filter): Filter => (negated ? { op: 'not', item: filter } : filter);

/** Turns a written condition into one of documents: on fields, against literals. Throws FormulaError for any other. */
export function filterOf(context: FormulaContext, node: Syntax): Filter {
  switch (node.kind) {
    case 'and':
    case 'or':
      return { op: node.kind, items: [filterOf(context, node.left), filterOf(context, node.right)] };
    case 'not':
      return { op: 'not', item: filterOf(context, node.operand) };
    case 'comparison': {
      const isMirrored = node.left.kind !== 'name' && node.right.kind === 'name';
      const [left, right, op] = isMirrored ? [node.right, node.left, MIRRORED[node.op]] : [node.left, node.right, node.op];
      const field = fieldOf(context, left);
      return { op: OPERATORS[op], field, value: comparable(context, field, right, node) };
    }
    case 'in': {
      const field = fieldOf(context, node.operand);
      const values = node.items.map((item) => comparable(context, field, item, node));
      return { op: node.negated ? 'notIn' : 'in', field, values };
    }
    case 'between': {
      const field = fieldOf(context, node.operand);
      const [low, high] = [node.low, node.high].map((bound) => comparable(context, field, bound, node));
      return negate(node.negated, { op: 'between', field, low, high });
    }
    case 'isNull':
      return { op: node.negated ? 'notEmpty' : 'empty', field: fieldOf(context, node.operand) };
    case 'like':
      return negate(node.negated, { op: 'like', field: textFieldOf(context, node.operand), value: node.pattern });
    case 'name':
      // A yes/no field stands for itself; another one is no condition.
      if ((findField(context.dataset, node.name)?.type ?? 'boolean') !== 'boolean') break;
      return { op: 'eq', field: fieldOf(context, node), value: true };
    case 'call':
      if ((node.name === 'contains' || node.name === 'starts_with') && node.args.length === 2) {
        const value = String(literalOf(context, node.args[1]));
        return { op: node.name === 'contains' ? 'contains' : 'startsWith', field: textFieldOf(context, node.args[0]), value };
      }
  }
  throw new FormulaError({ code: 'not-a-condition', span: node.span, subject: quoted(context, node.span) });
}
