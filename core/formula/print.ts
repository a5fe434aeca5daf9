import { isKeyword } from './keywords.ts';
import type { Syntax, WrittenName } from './syntax.ts';

const STRENGTH = {
  or: 1,
  and: 2,
  not: 3,
  comparison: 4,
  '+': 5,
  '-': 5,
  '||': 5,
  '*': 6,
  '/': 6,
  '%': 6,
  negative: 7,
  '^': 8,
  place: 9,
  atom: 10,
} as const;

const quoteText = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** A name as formulas write it: in double quotes where it holds other characters or is a keyword. */
export function printName(name: string): string {
  const plain = /^[A-Za-z_\u00a1-\u{10ffff}][A-Za-z0-9_\u00a1-\u{10ffff}]*$/u.test(name) && !isKeyword(name);
  return plain ? name : `"${name.replaceAll('"', '""')}"`;
}

/** Quotes that say that a name is no word of the language stay. */
const printWritten = ({ name, quoted }: WrittenName): string =>
  quoted && WORDS_OF_PLACES.has(name.toLowerCase()) ? `"${name}"` : printName(name);
const WORDS_OF_PLACES = new Set(['parent', 'row', 'column', 'total', 'down', 'across', 'asc', 'desc']);

function strengthOf(node: Syntax): number {
  switch (node.kind) {
    case 'binary':
      return STRENGTH[node.op];
    case 'at':
    case 'back':
      return STRENGTH.place;
    case 'negative':
    case 'not':
    case 'and':
    case 'or':
      return STRENGTH[node.kind];
    case 'comparison':
    case 'in':
    case 'between':
    case 'isNull':
    case 'like':
      return STRENGTH.comparison;
    default:
      return STRENGTH.atom;
  }
}

/** Writes a formula with single spaces and only the brackets it needs; parsing it again gives the same formula. */
export function printFormula(node: Syntax): string {
  const within = (part: Syntax, least: number): string => (strengthOf(part) < least ? `(${printFormula(part)})` : printFormula(part));
  const not = (negated: boolean): string => (negated ? 'not ' : '');
  switch (node.kind) {
    case 'number':
      return node.text;
    case 'text':
      return quoteText(node.value);
    case 'date':
      return `date ${quoteText(node.value)}`;
    case 'boolean':
      return String(node.value);
    case 'null':
      return 'null';
    case 'name':
      return printWritten(node);
    case 'call': {
      const given = [...node.args.map(printFormula), ...node.named.map(({ name, value }) => `${name}: ${printFormula(value)}`)];
      const condition = node.where ? `${given.length ? ' ' : ''}where ${printFormula(node.where)}` : '';
      return `${node.name}(${given.join(', ')}${condition})`;
    }
    case 'per': {
      const levels = node.levels.map(printWritten).join(', ');
      return `${node.operand ? `${printFormula(node.operand)} ` : ''}per ${node.levels.length > 1 ? `(${levels})` : levels}`;
    }
    case 'duration':
      return `${node.amount} ${node.unit}`;
    case 'at':
      return `${within(node.operand, STRENGTH.place)} at ${printWritten(node.level)}`;
    case 'back':
      return `${within(node.operand, STRENGTH.place)} back ${printFormula(node.duration)}`;
    case 'negative':
      return `-${within(node.operand, STRENGTH.negative + 1)}`;
    case 'binary': {
      const own = STRENGTH[node.op];
      const rightLeaning = node.op === '^';
      return `${within(node.left, rightLeaning ? own + 1 : own)} ${node.op} ${within(node.right, rightLeaning ? own : own + 1)}`;
    }
    case 'comparison':
      return `${within(node.left, STRENGTH.comparison + 1)} ${node.op} ${within(node.right, STRENGTH.comparison + 1)}`;
    case 'in':
      return `${within(node.operand, STRENGTH.comparison + 1)} ${not(node.negated)}in (${node.items.map(printFormula).join(', ')})`;
    case 'between':
      return `${within(node.operand, STRENGTH.comparison + 1)} ${not(node.negated)}between ${within(node.low, STRENGTH.comparison + 1)} and ${within(node.high, STRENGTH.comparison + 1)}`;
    case 'isNull':
      return `${within(node.operand, STRENGTH.comparison + 1)} is ${not(node.negated)}null`;
    case 'like':
      return `${within(node.operand, STRENGTH.comparison + 1)} ${not(node.negated)}like ${quoteText(node.pattern)}`;
    case 'not':
      return `not ${within(node.operand, STRENGTH.not)}`;
    case 'and':
      return `${within(node.left, STRENGTH.and)} and ${within(node.right, STRENGTH.and + 1)}`;
    case 'or':
      return `${within(node.left, STRENGTH.or)} or ${within(node.right, STRENGTH.or + 1)}`;
    case 'case': {
      const branches = node.branches.map(({ when, then }) => `when ${printFormula(when)} then ${printFormula(then)}`).join(' ');
      return `case ${branches}${node.otherwise ? ` else ${printFormula(node.otherwise)}` : ''} end`;
    }
  }
}
