import type { Syntax } from './syntax.ts';

const STRENGTH = { or: 1, and: 2, not: 3, comparison: 4, '+': 5, '-': 5, '*': 6, '/': 6, '%': 6, negative: 7, '^': 8, atom: 9 } as const;
const KEYWORDS = new Set('date true false null where in between and or not is like case when then else end'.split(' '));

const quoteText = (text: string): string => `'${text.replaceAll("'", "''")}'`;

/** A name as formulas write it: in double quotes where it holds other characters or is a keyword. */
export function printName(name: string): string {
  const plain = /^[A-Za-z_\u00a1-\u{10ffff}][A-Za-z0-9_\u00a1-\u{10ffff}]*$/u.test(name) && !KEYWORDS.has(name.toLowerCase());
  return plain ? name : `"${name.replaceAll('"', '""')}"`;
}

function strengthOf(node: Syntax): number {
  switch (node.kind) {
    case 'binary':
      return STRENGTH[node.op];
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
      return printName(node.name);
    case 'call':
      return `${node.name}(${node.args.map(printFormula).join(', ')}${node.where ? `${node.args.length ? ' ' : ''}where ${printFormula(node.where)}` : ''})`;
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
      return `${within(node.operand, STRENGTH.comparison + 1)} ${not(node.negated)}between ${within(node.low, STRENGTH.negative)} and ${within(node.high, STRENGTH.negative)}`;
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
