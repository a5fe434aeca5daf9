import type { RecordExpression } from '../engine/index.ts';
import type { Dataset, Fact, Field } from '../model/index.ts';
import { nearestName } from './names.ts';
import { parseFormula } from './parse.ts';
import { recordExpressionOf } from './records.ts';
import { FormulaError, type Span } from './syntax.ts';

/**
 * The arithmetic of a calculated field. It reads stored numbers of its own record, so that its value is there once,
 * however records are grouped. Throws FormulaError with the place of what is wrong.
 */
export function planCalculatedField(dataset: Dataset, fact: Fact, { formula = '' }: Field): RecordExpression {
  const expression = recordExpressionOf({ dataset, text: formula }, parseFormula(formula));
  const stored = fact.fields.filter((field) => !field.formula);
  const check = (part: RecordExpression): void => {
    const span: Span = { from: 0, to: formula.length };
    switch (part.kind) {
      case 'field': {
        const field = stored.find(({ name }) => name === part.name);
        if (!field) {
          const known = stored.filter(({ type }) => type === 'integer' || type === 'decimal').map(({ name }) => name);
          throw new FormulaError({ code: 'unknown-name', span, subject: part.name, hint: nearestName(part.name, known) });
        }
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
        throw new FormulaError({ code: 'unknown-function', span, subject: 'if', hint: 'coalesce' });
      case 'constant':
    }
  };
  check(expression);
  return expression;
}
