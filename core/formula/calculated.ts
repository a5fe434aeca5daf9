import type { RecordExpression } from '../engine/index.ts';
import { fieldsOf, type Dataset, type Fact, type Field } from '../model/index.ts';
import { nearestName } from './names.ts';
import { parseFormula } from './parse.ts';
import { recordExpressionOf } from './records.ts';
import { FormulaError, type Span } from './syntax.ts';

/**
 * The arithmetic of a calculated field. It reads stored fields of its own record, so that its value is there once,
 * however records are grouped. Throws FormulaError with the place of what is wrong.
 */
export function planCalculatedField(dataset: Dataset, fact: Fact, { formula = '' }: Field): RecordExpression {
  const expression = recordExpressionOf({ dataset, text: formula }, parseFormula(formula));
  const stored = fact.fields.filter((field) => !field.formula);
  const span: Span = { from: 0, to: formula.length };
  const storedField = (name: string): Field => {
    const field = stored.find((one) => one.name === name);
    if (field) return field;
    const known = stored.map((one) => one.name);
    throw new FormulaError({ code: 'unknown-name', span, subject: name, hint: nearestName(name, known) });
  };
  const check = (part: RecordExpression): void => {
    switch (part.kind) {
      case 'field': {
        const field = storedField(part.name);
        if (field.type !== 'integer' && field.type !== 'decimal')
          throw new FormulaError({ code: 'not-a-number', span, subject: part.name });
        return;
      }
      case 'negate':
        return check(part.operand);
      case 'arithmetic':
        check(part.left);
        return check(part.right);
      case 'coalesce':
        return part.items.forEach(check);
      case 'choose':
        fieldsOf(part.when).forEach(storedField);
        check(part.then);
        return part.otherwise ? check(part.otherwise) : undefined;
      case 'constant':
    }
  };
  check(expression);
  return expression;
}
