import type { RecordExpression, Scalar, ScalarType } from '../engine/index.ts';
import { quoted, type FormulaContext } from './conditions.ts';
import { FormulaError, type Syntax } from './syntax.ts';
import { TYPE_WORDS, typesInWords } from './type-words.ts';

/** A part of a record formula with what it gives. */
export interface TypedRecord {
  expression: RecordExpression;
  type: ScalarType;
}

/** The type that values share; a number where there are none. Throws FormulaError where they differ. */
export function commonType(context: FormulaContext, values: readonly ScalarType[], node: Syntax): ScalarType {
  const types = [...new Set(values)];
  if (types.length <= 1) return types[0] ?? 'number';
  throw new FormulaError({ code: 'types-differ', span: node.span, subject: quoted(context, node.span), hint: typesInWords(types) });
}

/** Throws FormulaError where a function is given too few or too many values. */
export function requireCount(fn: string, { least, most }: Scalar, given: number, node: Syntax): void {
  if (given >= least && given <= most) return;
  const count = least === most ? String(least) : `${least} to ${most}`;
  throw new FormulaError({ code: 'argument-count', span: node.span, subject: fn, hint: `${count} value${count === '1' ? '' : 's'}` });
}

/** Throws FormulaError where an argument is not of the type that its function takes there. */
export function requireType(context: FormulaContext, { takes }: Scalar, index: number, part: Syntax, type: ScalarType): void {
  const wanted = takes[Math.min(index, takes.length - 1)];
  if (wanted === 'any' || type === wanted) return;
  const subject = quoted(context, part.span);
  if (wanted === 'number') throw new FormulaError({ code: 'not-a-number', span: part.span, subject });
  if (wanted === 'boolean') throw new FormulaError({ code: 'not-a-condition', span: part.span, subject });
  throw new FormulaError({ code: 'value-expected', span: part.span, subject, hint: TYPE_WORDS[wanted] });
}
