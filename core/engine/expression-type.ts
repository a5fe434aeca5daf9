import { fieldPlace, isNumberType, type Dataset } from '../model/index.ts';
import type { RecordExpression } from './query.ts';
import { scalarNamed, type ScalarType } from './scalars.ts';

/** What an expression gives. */
export function typeOfExpression(dataset: Dataset, expression: RecordExpression): ScalarType {
  switch (expression.kind) {
    case 'field': {
      const { type } = fieldPlace(dataset, expression.name);
      return type === 'datetime' ? 'text' : isNumberType(type) ? 'number' : type;
    }
    case 'text':
    case 'date':
    case 'boolean':
      return expression.kind;
    case 'apply': {
      const { gives } = scalarNamed(expression.fn);
      return gives === 'same' ? typeOfExpression(dataset, expression.args[0]) : gives;
    }
    case 'coalesce':
      return typeOfExpression(dataset, expression.items[0]);
    case 'choose':
      return typeOfExpression(dataset, expression.then);
    default:
      return 'number';
  }
}
