import type { SyntaxNode } from '@lezer/common';
import { parser } from './grammar/parser.js';
import { FormulaError, type BinaryOperator, type ComparisonOperator, type Span, type Syntax, type WrittenName } from './syntax.ts';

/** Formulas may be nested this deep: far beyond what anybody writes, and what every reader of them can follow. */
const MOST_NESTED = 400;

const unquote = (text: string, quote: string): string => text.slice(1, -1).replaceAll(quote + quote, quote);

/** The nodes of a tree that carry meaning, without punctuation and keywords. */
function parts(node: SyntaxNode): SyntaxNode[] {
  const found: SyntaxNode[] = [];
  for (let child = node.firstChild; child; child = child.nextSibling) {
    if (/^[A-Z]/.test(child.name) && child.name !== 'LineComment') found.push(child);
  }
  return found;
}

/** Reads a formula. Throws FormulaError with the place of the first thing that is wrong. */
export function parseFormula(text: string): Syntax {
  if (text.trim() === '') throw new FormulaError({ code: 'empty', span: { from: 0, to: text.length }, subject: '' });
  const tree = parser.parse(text);
  tree.iterate({
    enter(node) {
      if (node.type.isError) throw syntaxError(text, node.from, node.to);
    },
  });
  const [top] = parts(tree.topNode);
  if (!top) throw syntaxError(text, 0, text.length);
  return read(text, top, 0);
}

function syntaxError(text: string, from: number, to: number): FormulaError {
  let [start, end] = [from, to];
  if (start === end) {
    // The parser found a gap: point at the word that follows it.
    const rest = /^\s*(\w+|\S)?/.exec(text.slice(start));
    const word = rest?.[1] ?? '';
    start += (rest?.[0].length ?? 0) - word.length;
    end = start + word.length;
  }
  return new FormulaError({ code: 'syntax', span: { from: start, to: end }, subject: text.slice(start, end) });
}

const nameOf = (text: string, node: SyntaxNode): WrittenName => {
  const source = text.slice(node.from, node.to);
  const quoted = source.startsWith('"');
  return { name: quoted ? unquote(source, '"') : source, quoted, span: { from: node.from, to: node.to } };
};

function durationOf(text: string, node: SyntaxNode): Extract<Syntax, { kind: 'duration' }> {
  const [amount, unit] = parts(node).map((part) => text.slice(part.from, part.to));
  return { kind: 'duration', amount, unit: unit.toLowerCase(), span: { from: node.from, to: node.to } };
}

function read(text: string, node: SyntaxNode, depth: number): Syntax {
  const span: Span = { from: node.from, to: node.to };
  if (depth > MOST_NESTED) throw new FormulaError({ code: 'too-deep', span, subject: String(MOST_NESTED) });
  const source = text.slice(node.from, node.to);
  const inner = parts(node).filter((part) => part.name !== 'Negated');
  const negated = node.getChild('Negated') !== null;
  const down = (part: SyntaxNode): Syntax => read(text, part, depth + 1);
  const child = (index: number): Syntax => down(inner[index]);
  switch (node.name) {
    case 'Number':
      return { kind: 'number', text: source, span };
    case 'String':
      return { kind: 'text', value: unquote(source, "'"), span };
    case 'Date':
      return { kind: 'date', value: unquote(text.slice(inner[0].from, inner[0].to), "'"), span };
    case 'True':
    case 'False':
      return { kind: 'boolean', value: node.name === 'True', span };
    case 'Null':
      return { kind: 'null', span };
    case 'Name':
    case 'QuotedName':
      return { kind: 'name', ...nameOf(text, node) };
    case 'Parenthesized':
    case 'BetweenBound':
      return child(0);
    case 'Call': {
      const args = node.getChild('Arguments');
      const condition = node.getChild('Condition');
      const given = args ? parts(args) : [];
      return {
        kind: 'call',
        name: text.slice(inner[0].from, inner[0].to).toLowerCase(),
        args: given.filter(({ name }) => name !== 'NamedArgument').map(down),
        named: given
          .filter(({ name }) => name === 'NamedArgument')
          .map((part) => {
            const [name, value] = parts(part);
            return { name: nameOf(text, name).name.toLowerCase(), value: down(value), span: { from: part.from, to: part.to } };
          }),
        where: condition ? down(parts(condition)[0]) : null,
        span,
      };
    }
    case 'Per': {
      const levels = inner.filter(({ name }) => name === 'Level').map((part) => nameOf(text, part));
      return { kind: 'per', operand: inner[0].name === 'Level' ? null : child(0), levels, span };
    }
    case 'Duration':
      return durationOf(text, node);
    case 'At':
      return { kind: 'at', operand: child(0), level: nameOf(text, inner[1]), span };
    case 'Back':
      return { kind: 'back', operand: child(0), duration: durationOf(text, inner[1]), span };
    case 'Negative':
      return { kind: 'negative', operand: child(0), span };
    case 'Binary':
      return { kind: 'binary', op: text.slice(inner[1].from, inner[1].to) as BinaryOperator, left: child(0), right: child(2), span };
    case 'Comparison':
      return {
        kind: 'comparison',
        op: text.slice(inner[1].from, inner[1].to) as ComparisonOperator,
        left: child(0),
        right: child(2),
        span,
      };
    case 'InList':
      return { kind: 'in', negated, operand: child(0), items: inner.slice(1).map(down), span };
    case 'Between':
      return { kind: 'between', negated, operand: child(0), low: child(1), high: child(2), span };
    case 'IsNull':
      return { kind: 'isNull', negated, operand: child(0), span };
    case 'Like': {
      const pattern = inner[1];
      return { kind: 'like', negated, operand: child(0), pattern: unquote(text.slice(pattern.from, pattern.to), "'"), span };
    }
    case 'Not':
      return { kind: 'not', operand: child(0), span };
    case 'And':
      return { kind: 'and', left: child(0), right: child(1), span };
    case 'Or':
      return { kind: 'or', left: child(0), right: child(1), span };
    case 'Case': {
      const otherwise = node.getChild('Else');
      return {
        kind: 'case',
        branches: node.getChildren('When').map((when) => {
          const [condition, result] = parts(when);
          return { when: down(condition), then: down(result) };
        }),
        otherwise: otherwise ? down(parts(otherwise)[0]) : null,
        span,
      };
    }
    default:
      throw syntaxError(text, node.from, node.to);
  }
}
