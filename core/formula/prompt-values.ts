import type { RecordExpression } from '../engine/index.ts';
import type { PromptValue } from '../model/index.ts';
import type { TypedCell } from './cell-functions.ts';
import { quoted, type FormulaContext } from './conditions.ts';
import { nearestName } from './names.ts';
import { FormulaError, type Syntax } from './syntax.ts';
import type { TypedRecord } from './types.ts';

type Call = Extract<Syntax, { kind: 'call' }>;

/** What a prompt stands for where a formula names it, as in `prompt(discount)`. Throws FormulaError where there is none of one value. */
function valueNamed(context: FormulaContext, node: Call): PromptValue {
  const [argument] = node.args;
  if (node.args.length !== 1 || node.where || node.named.length > 0)
    throw new FormulaError({ code: 'argument-count', span: node.span, subject: 'prompt', hint: 'the name of a prompt of the report' });
  if (argument.kind !== 'name')
    throw new FormulaError({ code: 'name-expected', span: argument.span, subject: quoted(context, argument.span) });
  const { promptValues } = context.dataset;
  const name = argument.name.toLowerCase();
  if (promptValues && Object.hasOwn(promptValues, name)) return promptValues[name];
  const hint = promptValues ? nearestName(argument.name, Object.keys(promptValues)) : 'outside';
  throw new FormulaError({ code: 'no-prompt', span: argument.span, subject: argument.name, hint });
}

/** A prompt in a measure formula: the same value in every cell. */
export function promptCell(context: FormulaContext, node: Call): TypedCell {
  const { type, value } = valueNamed(context, node);
  return { cell: { kind: 'constant', value }, type };
}

/** A prompt in a record formula: the same value for every record. */
export function promptRecord(context: FormulaContext, node: Call): TypedRecord {
  const { type, value } = valueNamed(context, node);
  const constant: Record<PromptValue['type'], () => RecordExpression> = {
    number: () => ({ kind: 'constant', value: Number(value), scale: digitsOf(Number(value)) }),
    boolean: () => ({ kind: 'boolean', value: Boolean(value) }),
    text: () => ({ kind: 'text', value: String(value ?? '') }),
  };
  const expression = constant[type]();
  if (value !== null) return { type, expression };
  // No record satisfies an empty "or": what stands for it then is missing.
  return { type, expression: { kind: 'choose', when: { op: 'or', items: [] }, then: expression, otherwise: null } };
}

/** Digits after the point of a number as it is written. */
function digitsOf(value: number): number {
  const [, digits = ''] = String(value).split('.');
  return /^\d*$/.test(digits) ? digits.length : 6;
}
