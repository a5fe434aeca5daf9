import type { NumberColumn } from './columns.ts';
import type { ArithmeticOperator } from './query.ts';

/** Fills `out[0..count)` with the values of the records `rows[0..count)`; NaN is missing. */
export type BlockEvaluator = (rows: Int32Array, count: number, out: Float64Array) => void;

export interface CompiledExpression {
  evaluate: BlockEvaluator;
  /** Values count units of 10^-scale, exactly; null once they are floats. */
  scale: number | null;
  /** Whether some record may have no value. */
  mayMiss: boolean;
  /** No value is larger than this, in units; tells when sums leave the safe integers. */
  bound: number;
  /** Set where the expression is a plain column of the fact, so that loops can read it directly. */
  column?: NumberColumn;
}

export const BLOCK = 4096;
/** No function of a record gives more units than these where it says that it is exact. */
export const MOST_UNITS = 2 ** 44;

export function gatherColumn(column: NumberColumn): BlockEvaluator {
  const { values, missing } = column;
  if (!missing) {
    return (rows, count, out) => {
      for (let k = 0; k < count; k++) out[k] = values[rows[k]];
    };
  }
  return (rows, count, out) => {
    for (let k = 0; k < count; k++) {
      const row = rows[k];
      out[k] = missing[row >> 3] & (1 << (row & 7)) ? Number.NaN : values[row];
    }
  };
}

export function gatherLinked(column: NumberColumn, reference: Int32Array): BlockEvaluator {
  const gather = gatherColumn(column);
  const linked = new Int32Array(BLOCK);
  return (rows, count, out) => {
    for (let k = 0; k < count; k++) linked[k] = Math.max(reference[rows[k]] - 1, 0);
    gather(linked, count, out);
    for (let k = 0; k < count; k++) if (reference[rows[k]] === 0) out[k] = Number.NaN;
  };
}

const bounds = new WeakMap<NumberColumn, number>();
export function boundOf(column: NumberColumn): number {
  let bound = bounds.get(column);
  if (bound === undefined) {
    bound = 0;
    for (let row = 0; row < column.values.length; row++) bound = Math.max(bound, Math.abs(column.values[row]));
    bounds.set(column, bound);
  }
  return bound;
}

/** Brings an exact expression to a larger scale. */
function rescale(expression: CompiledExpression, scale: number): CompiledExpression {
  if (expression.scale === null || expression.scale === scale) return expression;
  const factor = 10 ** (scale - expression.scale);
  const { evaluate } = expression;
  return {
    scale,
    mayMiss: expression.mayMiss,
    bound: expression.bound * factor,
    evaluate(rows, count, out) {
      evaluate(rows, count, out);
      for (let k = 0; k < count; k++) out[k] *= factor;
    },
  };
}

/** Turns exact units into plain floats. */
export function asFloat(expression: CompiledExpression): CompiledExpression {
  if (expression.scale === null) return expression;
  const divisor = 10 ** expression.scale;
  const { evaluate } = expression;
  return {
    scale: null,
    mayMiss: expression.mayMiss,
    bound: expression.bound / divisor,
    evaluate(rows, count, out) {
      evaluate(rows, count, out);
      if (divisor !== 1) for (let k = 0; k < count; k++) out[k] /= divisor;
    },
  };
}

/** Brings several expressions to one scale, or all to floats. */
export function align(parts: CompiledExpression[]): { parts: CompiledExpression[]; scale: number | null } {
  if (parts.some((part) => part.scale === null)) return { parts: parts.map(asFloat), scale: null };
  const scale = Math.max(...parts.map((part) => part.scale ?? 0));
  return { parts: parts.map((part) => rescale(part, scale)), scale };
}

const finite = (value: number): number => (Number.isFinite(value) ? value : Number.NaN);

type Operation = (out: Float64Array, right: Float64Array, count: number) => void;

const operations: Record<ArithmeticOperator, Operation> = {
  '+': (out, right, count) => {
    for (let k = 0; k < count; k++) out[k] += right[k];
  },
  '-': (out, right, count) => {
    for (let k = 0; k < count; k++) out[k] -= right[k];
  },
  '*': (out, right, count) => {
    for (let k = 0; k < count; k++) out[k] *= right[k];
  },
  '/': (out, right, count) => {
    for (let k = 0; k < count; k++) out[k] = right[k] === 0 ? Number.NaN : out[k] / right[k];
  },
  '%': (out, right, count) => {
    for (let k = 0; k < count; k++) out[k] = right[k] === 0 ? Number.NaN : out[k] % right[k];
  },
  '^': (out, right, count) => {
    for (let k = 0; k < count; k++) out[k] = finite(out[k] ** right[k]);
  },
};

export function compileArithmetic(op: ArithmeticOperator, a: CompiledExpression, b: CompiledExpression): CompiledExpression {
  let [left, right] = [a, b];
  let scale: number | null;
  let bound: number;
  if (op === '*') {
    const exact = a.scale !== null && b.scale !== null && a.bound * b.bound <= Number.MAX_SAFE_INTEGER;
    if (!exact) [left, right] = [asFloat(a), asFloat(b)];
    scale = exact ? a.scale! + b.scale! : null;
    bound = left.bound * right.bound;
  } else if (op === '/' || op === '^') {
    [left, right] = [asFloat(a), asFloat(b)];
    scale = null;
    bound = Infinity;
  } else {
    const aligned = align([a, b]);
    [left, right] = aligned.parts;
    scale = aligned.scale;
    bound = left.bound + right.bound;
  }
  const operate = operations[op];
  const scratch = new Float64Array(BLOCK);
  return {
    scale,
    bound,
    mayMiss: a.mayMiss || b.mayMiss || op === '/' || op === '%' || op === '^',
    evaluate(rows, count, out) {
      left.evaluate(rows, count, out);
      right.evaluate(rows, count, scratch);
      operate(out, scratch, count);
    },
  };
}
