import type { SyntaxNode } from '@lezer/common';
import { parser } from './grammar/parser.js';
import { FormulaError, type BinaryOperator, type ComparisonOperator, type Span, type Syntax } from './syntax.ts';

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
  return read(text, top);
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

function read(text: string, node: SyntaxNode): Syntax {
  const span: Span = { from: node.from, to: node.to };
  const source = text.slice(node.from, node.to);
  const inner = parts(node).filter((part) => part.name !== 'Negated');
  const negated = node.getChild('Negated') !== null;
  const child = (index: number): Syntax => read(text, inner[index]);
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
      return { kind: 'name', name: source, span };
    case 'QuotedName':
      return { kind: 'name', name: unquote(source, '"'), span };
    case 'Parenthesized':
    case 'BetweenBound':
      return child(0);
    case 'Call': {
      const args = node.getChild('Arguments');
      const condition = node.getChild('Condition');
      return {
        kind: 'call',
        name: text.slice(inner[0].from, inner[0].to).toLowerCase(),
        args: args ? parts(args).map((part) => read(text, part)) : [],
        where: condition ? read(text, parts(condition)[0]) : null,
        span,
      };
    }
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
      return { kind: 'in', negated, operand: child(0), items: inner.slice(1).map((part) => read(text, part)), span };
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
          return { when: read(text, condition), then: read(text, result) };
        }),
        otherwise: otherwise ? read(text, parts(otherwise)[0]) : null,
        span,
      };
    }
    default:
      throw syntaxError(text, node.from, node.to);
  }
}
