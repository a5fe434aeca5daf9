import type { Dataset, Fact } from '../model/index.ts';
import { codedColumn, isMissing, type Store } from './columns.ts';
import {
  align,
  asFloat,
  boundOf,
  compileArithmetic,
  gatherColumn,
  gatherLinked,
  MOST_UNITS,
  BLOCK,
  type CompiledExpression,
} from './compiled.ts';
import { compileFilter, holds, rowTest } from './predicate.ts';
import { QueryError, type RecordCondition, type RecordExpression } from './query.ts';
import { scalarNamed, type ScalarValue } from './scalars.ts';
import { fieldSource } from './source.ts';

/** Compiles a record expression to closures over blocks of records. Throws QueryError on a field that holds no numbers. */
export function compileExpression(dataset: Dataset, store: Store, fact: Fact, expression: RecordExpression): CompiledExpression {
  const compile = (part: RecordExpression): CompiledExpression => compileExpression(dataset, store, fact, part);
  switch (expression.kind) {
    case 'constant': {
      const units = Math.round(expression.value * 10 ** expression.scale);
      return {
        scale: expression.scale,
        mayMiss: false,
        bound: Math.abs(units),
        evaluate: (_rows, count, out) => void out.fill(units, 0, count),
      };
    }
    case 'field': {
      const source = fieldSource(dataset, store, fact, expression.name);
      if (source.kind === 'period' || source.column.kind === 'text') {
        throw new QueryError('not-a-number', expression.name, `${expression.name} holds no numbers, so it cannot be calculated with.`);
      }
      const { column } = source;
      const common = { scale: column.scale, bound: boundOf(column) };
      if (source.kind === 'own') return { ...common, mayMiss: column.missing !== null, evaluate: gatherColumn(column), column };
      return { ...common, mayMiss: true, evaluate: gatherLinked(column, source.reference) };
    }
    case 'negate': {
      const operand = compile(expression.operand);
      return {
        ...operand,
        column: undefined,
        evaluate(rows, count, out) {
          operand.evaluate(rows, count, out);
          for (let k = 0; k < count; k++) out[k] = -out[k];
        },
      };
    }
    case 'arithmetic':
      return compileArithmetic(expression.op, compile(expression.left), compile(expression.right));
    case 'coalesce': {
      const { parts, scale } = align(expression.items.map(compile));
      const scratch = new Float64Array(BLOCK);
      return {
        scale,
        mayMiss: parts.every((part) => part.mayMiss),
        bound: Math.max(...parts.map((part) => part.bound)),
        evaluate(rows, count, out) {
          out.fill(Number.NaN, 0, count);
          for (const part of parts) {
            part.evaluate(rows, count, scratch);
            for (let k = 0; k < count; k++) if (Number.isNaN(out[k])) out[k] = scratch[k];
          }
        },
      };
    }
    case 'apply': {
      const value = rowValue(dataset, store, fact, expression);
      const { scale } = expression;
      const factor = 10 ** (scale ?? 0);
      return {
        scale,
        mayMiss: true,
        bound: scale === null ? Infinity : MOST_UNITS,
        evaluate(rows, count, out) {
          for (let k = 0; k < count; k++) {
            const own = value(rows[k]);
            out[k] = typeof own !== 'number' ? Number.NaN : scale === null ? own : Math.round(own * factor);
          }
        },
      };
    }
    case 'text':
    case 'date':
    case 'boolean':
      throw new QueryError('not-a-number', expression.kind, 'This is no number, so it cannot be calculated with.');
    case 'choose': {
      const test = recordTest(dataset, store, fact, expression.when);
      const missing: CompiledExpression = {
        scale: 0,
        mayMiss: true,
        bound: 0,
        evaluate: (_rows, count, out) => void out.fill(Number.NaN, 0, count),
      };
      const { parts, scale } = align([compile(expression.then), expression.otherwise ? compile(expression.otherwise) : missing]);
      const scratch = new Float64Array(BLOCK);
      return {
        scale,
        mayMiss: parts.some((part) => part.mayMiss),
        bound: Math.max(...parts.map((part) => part.bound)),
        evaluate(rows, count, out) {
          parts[0].evaluate(rows, count, out);
          parts[1].evaluate(rows, count, scratch);
          for (let k = 0; k < count; k++) if (!test(rows[k])) out[k] = scratch[k];
        },
      };
    }
  }
}

/** The value of an expression for one record. */
type RowValue = (row: number) => ScalarValue;

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
      const { work } = scalarNamed(expression.fn);
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

/** A filter as a plain test on record numbers: true only where the condition surely holds. */
export function recordTest(dataset: Dataset, store: Store, fact: Fact, filter: RecordCondition): (row: number) => boolean {
  if (filter.op === 'test') {
    const value = rowValue(dataset, store, fact, filter.expression);
    return (row) => value(row) === 1;
  }
  const test = rowTest(compileFilter(dataset, store, fact, filter));
  return (row) => holds(test(row));
}
