import { fieldPlace, type Dataset, type Fact } from '../model/index.ts';
import { codedColumn, isMissing, type Store } from './columns.ts';
import { asFloat, compileExpression } from './expression.ts';
import { recordTest } from './predicate.ts';
import type { RecordExpression } from './query.ts';
import { SCALARS, type ScalarType, type ScalarValue } from './scalars.ts';
import { fieldSource } from './source.ts';

/** The value of an expression for one record. */
export type RowValue = (row: number) => ScalarValue;

/** What an expression gives. */
export function typeOfExpression(dataset: Dataset, expression: RecordExpression): ScalarType {
  switch (expression.kind) {
    case 'field': {
      const { type } = fieldPlace(dataset, expression.name);
      return type === 'datetime' ? 'text' : type === 'integer' || type === 'decimal' ? 'number' : type;
    }
    case 'text':
    case 'date':
    case 'boolean':
      return expression.kind;
    case 'apply': {
      const { gives } = SCALARS[expression.fn];
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

/** An expression as a function of record numbers, whatever it gives. Throws QueryError for fields the fact does not know. */
export function rowValue(dataset: Dataset, store: Store, fact: Fact, expression: RecordExpression): RowValue {
  const inner = (part: RecordExpression): RowValue => rowValue(dataset, store, fact, part);
  switch (expression.kind) {
    case 'text':
      return () => expression.value;
    case 'date':
      return () => expression.day;
    case 'boolean':
      return () => Number(expression.value);
    case 'field':
      return fieldValue(dataset, store, fact, expression.name);
    case 'apply': {
      const args = expression.args.map(inner);
      const { work } = SCALARS[expression.fn];
      return (row) => work(args.map((arg) => arg(row)));
    }
    case 'coalesce': {
      const items = expression.items.map(inner);
      return (row) => {
        for (const item of items) {
          const value = item(row);
          if (value !== null) return value;
        }
        return null;
      };
    }
    case 'choose': {
      const test = recordTest(dataset, store, fact, expression.when);
      const [then, otherwise] = [inner(expression.then), expression.otherwise ? inner(expression.otherwise) : () => null];
      return (row) => (test(row) ? then(row) : otherwise(row));
    }
    default: {
      const compiled = asFloat(compileExpression(dataset, store, fact, expression));
      const [rows, out] = [new Int32Array(1), new Float64Array(1)];
      return (row) => {
        rows[0] = row;
        compiled.evaluate(rows, 1, out);
        return Number.isNaN(out[0]) ? null : out[0];
      };
    }
  }
}

function fieldValue(dataset: Dataset, store: Store, fact: Fact, name: string): RowValue {
  const source = fieldSource(dataset, store, fact, name);
  if (source.kind === 'period') {
    const { codes, members } = source.coded;
    return (row) => (source.reference[row] === 0 ? null : (members[codes[source.reference[row] - 1] - 1] ?? null));
  }
  const { column } = source;
  const at: (row: number) => number = source.kind === 'own' ? (row) => row : (row) => source.reference[row] - 1;
  if (column.kind === 'text') {
    const { codes, members } = codedColumn(column);
    return (row) => {
      const entry = at(row);
      return entry < 0 || codes[entry] === 0 ? null : members[codes[entry] - 1];
    };
  }
  const factor = 10 ** column.scale;
  return (row) => {
    const entry = at(row);
    return entry < 0 || isMissing(column, entry) ? null : column.values[entry] / factor;
  };
}
