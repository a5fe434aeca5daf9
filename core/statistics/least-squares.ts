/** Columns whose sum comes nearest to some values. */
interface LeastSquares {
  /** How often each column is taken. */
  solution: number[];
  /** The variance of a sum of what was solved for, in units of the variance of one error. */
  varies(shares: readonly number[]): number;
}

/** What keeps a matrix invertible whose columns say almost the same, as a share of its diagonal. */
const RIDGE = 1e-12;

/**
 * Least squares by the normal equations, their columns brought to length one, and Cholesky's factors (Golub and Van Loan, "Matrix
 * Computations", sections 4.2 and 5.3.2). Fit for a search that asks for it thousands of times.
 */
export function leastSquares(columns: readonly Float64Array[], values: Float64Array): LeastSquares {
  const count = columns.length;
  const dot = (a: Float64Array, b: Float64Array): number => {
    let sum = 0;
    for (let index = 0; index < a.length; index++) sum += a[index] * b[index];
    return sum;
  };
  const lengths = columns.map((column) => Math.sqrt(dot(column, column)) || 1);
  const factor: Float64Array[] = [];
  for (let row = 0; row < count; row++) {
    const own = new Float64Array(row + 1);
    for (let at = 0; at < row; at++) {
      let sum = dot(columns[row], columns[at]) / (lengths[row] * lengths[at]);
      for (let k = 0; k < at; k++) sum -= own[k] * factor[at][k];
      own[at] = sum / factor[at][at];
    }
    let rest = dot(columns[row], columns[row]) / (lengths[row] * lengths[row]) + RIDGE;
    for (let k = 0; k < row; k++) rest -= own[k] * own[k];
    own[row] = Math.sqrt(Math.max(rest, RIDGE));
    factor.push(own);
  }
  /** Solves the lower triangle. */
  const forward = (right: readonly number[]): number[] => {
    const solved: number[] = [];
    for (let row = 0; row < count; row++) {
      let sum = right[row];
      for (let k = 0; k < row; k++) sum -= factor[row][k] * solved[k];
      solved.push(sum / factor[row][row]);
    }
    return solved;
  };
  const solution = forward(columns.map((column, index) => dot(column, values) / lengths[index]));
  for (let row = count - 1; row >= 0; row--) {
    for (let k = row + 1; k < count; k++) solution[row] -= factor[k][row] * solution[k];
    solution[row] /= factor[row][row];
  }
  return {
    solution: solution.map((value, index) => value / lengths[index]),
    varies: (shares) => forward(shares.map((share, index) => share / lengths[index])).reduce((sum, value) => sum + value * value, 0),
  };
}
