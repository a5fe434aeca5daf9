import type { RecordExpression, ScalarType } from '../engine/index.ts';
import { UnknownNameError, type ColumnType, type Dataset, type Fact, type Field } from '../model/index.ts';
import { nearestName } from './names.ts';
import { parseFormula } from './parse.ts';
import { fieldsRead, recordNumber, recordOf } from './records.ts';
import { FormulaError, type Span } from './syntax.ts';
import { TYPE_WORDS } from './type-words.ts';

/** What a formula has to give for a field to be of a type; nothing gives a time of day. */
const GIVES: Record<ColumnType, ScalarType | null> = {
  ...{ text: 'text', integer: 'number', decimal: 'number', date: 'date', datetime: null, boolean: 'boolean' },
};

/** A calculated field with another formula: its type is what the formula gives. A formula that is not sound leaves it as it is. */
export function withFormula(dataset: Dataset, field: Field, formula: string): Field {
  try {
    const { type } = recordOf({ dataset, text: formula }, parseFormula(formula));
    if (type === GIVES[field.type]) return { ...field, formula };
    return { ...field, formula, type: type === 'number' ? 'decimal' : type, scale: type === 'number' ? 2 : 0 };
  } catch (error) {
    if (!(error instanceof FormulaError || error instanceof UnknownNameError)) throw error;
    return { ...field, formula };
  }
}

/**
 * The expression of a calculated field, of the field's type. It reads stored fields of its own record, so that its value is
 * there once, however records are grouped. Throws FormulaError with the place of what is wrong.
 */
export function planCalculatedField(dataset: Dataset, fact: Fact, { formula = '', type }: Field): RecordExpression {
  const context = { dataset, text: formula };
  const parsed = parseFormula(formula);
  const span: Span = { from: 0, to: formula.length };
  const gives = GIVES[type];
  const typed = gives === 'number' ? { expression: recordNumber(context, parsed), type: gives } : recordOf(context, parsed);
  if (typed.type !== gives)
    throw new FormulaError({
      code: 'value-expected',
      span,
      subject: formula,
      hint: gives ? TYPE_WORDS[gives] : 'number, a text or a date',
    });
  const { expression } = typed;
  const stored = fact.fields.filter((field) => !field.formula);
  const storedField = (name: string): Field => {
    const field = stored.find((one) => one.name === name);
    if (field) return field;
    const known = stored.map((one) => one.name);
    throw new FormulaError({ code: 'unknown-name', span, subject: name, hint: nearestName(name, known) });
  };
  for (const name of fieldsRead(expression)) storedField(name);
  return expression;
}
