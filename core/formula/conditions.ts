import { findField, type Dataset, type Filter, type Literal } from '../model/index.ts';
import { nearestName } from './names.ts';
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
      return { op: OPERATORS[op], field: fieldOf(context, left), value: literalOf(context, right) };
    }
    case 'in':
      return {
        op: node.negated ? 'notIn' : 'in',
        field: fieldOf(context, node.operand),
        values: node.items.map((item) => literalOf(context, item)),
      };
    case 'between':
      return negate(node.negated, {
        op: 'between',
        field: fieldOf(context, node.operand),
        low: literalOf(context, node.low),
        high: literalOf(context, node.high),
      });
    case 'isNull':
      return { op: node.negated ? 'notEmpty' : 'empty', field: fieldOf(context, node.operand) };
    case 'like':
      return negate(node.negated, { op: 'like', field: fieldOf(context, node.operand), value: node.pattern });
    case 'name':
      // A yes/no field stands for itself; another one is no condition.
      if ((findField(context.dataset, node.name)?.type ?? 'boolean') !== 'boolean') break;
      return { op: 'eq', field: fieldOf(context, node), value: true };
    case 'call':
      if ((node.name === 'contains' || node.name === 'starts_with') && node.args.length === 2) {
        const value = String(literalOf(context, node.args[1]));
        return { op: node.name === 'contains' ? 'contains' : 'startsWith', field: fieldOf(context, node.args[0]), value };
      }
  }
  throw new FormulaError({ code: 'not-a-condition', span: node.span, subject: quoted(context, node.span) });
}
