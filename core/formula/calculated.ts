import type { RecordExpression } from '../engine/index.ts';
import type { Dataset, Fact, Field } from '../model/index.ts';
import { nearestName } from './names.ts';
import { parseFormula } from './parse.ts';
import { fieldsRead, recordNumber } from './records.ts';
import { FormulaError, type Span } from './syntax.ts';

/**
 * The arithmetic of a calculated field. It reads stored fields of its own record, so that its value is there once,
 * however records are grouped. Throws FormulaError with the place of what is wrong.
 */
export function planCalculatedField(dataset: Dataset, fact: Fact, { formula = '' }: Field): RecordExpression {
  const expression = recordNumber({ dataset, text: formula }, parseFormula(formula));
  const stored = fact.fields.filter((field) => !field.formula);
  const span: Span = { from: 0, to: formula.length };
  const storedField = (name: string): Field => {
    const field = stored.find((one) => one.name === name);
    if (field) return field;
    const known = stored.map((one) => one.name);
    throw new FormulaError({ code: 'unknown-name', span, subject: name, hint: nearestName(name, known) });
  };
  for (const name of fieldsRead(expression)) storedField(name);
  return expression;
}
