import { studentReach } from './student.ts';

/** A curve fitted to points by least squares. */
export interface Fit {
  /** As the kind of curve has them: of a polynomial from the constant on. */
  coefficients: readonly number[];
  /**
   * As it was fitted and is evaluated: in x itself it would lose its digits. A polynomial in (x − centre) / reach, an exponential
   * in x − centre, a power in x / centre.
   */
  centred?: { coefficients: readonly number[]; centre: number; reach: number };
  at(x: number): number;
  /** Share of the variance that it explains, in the values themselves; null where these do not vary. */
  r2: number | null;
}

/** A curve that is a straight line, maybe through logarithms: it can tell how sure a new value is. */
export interface LineFit extends Fit {
  /**
   * The ends of the interval that holds a new value with some confidence, in percent (Draper and Smith, "Applied Regression
   * Analysis", section 1.4); in logarithms where the line runs through these. With two points only, that says nothing: null.
   */
  interval(x: number, confidence: number): { low: number; high: number } | null;
}

export type LineKind = 'linear' | 'logarithmic' | 'exponential' | 'power';
export type CurveKind = LineKind | 'polynomial';

interface XY {
  x: number;
  y: number;
}

/** The middle of some places, and how far they reach from it: in few digits, so that both can be written as they are used. */
function places(points: readonly XY[]): { centre: number; reach: number } {
  const xs = points.map(({ x }) => x);
  const middle = xs.reduce((sum, x) => sum + x, 0) / xs.length;
  const furthest = Math.max(...xs.map((x) => Math.abs(x - middle))) || 1;
  const digit = 10 ** (Math.floor(Math.log10(furthest)) - 1);
  const rounded = (value: number, round: (of: number) => number): number => Number((round(value / digit) * digit).toPrecision(12));
  return { centre: rounded(middle, Math.round), reach: rounded(furthest, Math.ceil) };
}

/**
 * Polynomials that are orthogonal over some points, by their three-term recurrence (Forsythe, "Generation and use of orthogonal
 * polynomials for data-fitting with a digital computer", J. SIAM 5, 1957). Powers themselves lose most digits by degree 5.
 */
function orthogonalFit(points: readonly XY[], degree: number): NonNullable<Fit['centred']> | null {
  const { centre, reach } = places(points);
  const scaled = points.map(({ x }) => (x - centre) / reach);
  // Polynomials as their coefficients in the scaled variable.
  let [before, own]: [number[], number[]] = [[0], [1]];
  let [beforeValues, values] = [scaled.map(() => 0), scaled.map(() => 1)];
  let beforeNorm = 1;
  const sum = new Array<number>(degree + 1).fill(0);
  let residuals = points.map(({ y }) => y);
  for (let order = 0; order <= degree; order++) {
    const norm = values.reduce((total, value) => total + value * value, 0);
    if (!(norm > 1e-20)) return null;
    // Twice: what rounding left of the first projection is taken as well.
    for (let pass = 0; pass < 2; pass++) {
      const weight = values.reduce((total, value, index) => total + value * residuals[index], 0) / norm;
      own.forEach((coefficient, power) => (sum[power] += weight * coefficient));
      residuals = residuals.map((rest, index) => rest - weight * values[index]);
    }
    const shift = values.reduce((total, value, index) => total + scaled[index] * value * value, 0) / norm;
    const back = order === 0 ? 0 : norm / beforeNorm;
    const next = [0, ...own].map((coefficient, power) => coefficient - shift * (own[power] ?? 0) - back * (before[power] ?? 0));
    const nextValues = values.map((value, index) => (scaled[index] - shift) * value - back * beforeValues[index]);
    [before, own] = [own, next];
    [beforeValues, values] = [values, nextValues];
    beforeNorm = norm;
  }
  return { coefficients: sum, centre, reach };
}

/** The coefficients in x of a polynomial in (x − centre) / reach. */
function unscaled({ coefficients, centre, reach }: NonNullable<Fit['centred']>): number[] {
  let result = [0];
  // Horner's rule, with polynomials in the place of numbers.
  for (const coefficient of [...coefficients].reverse()) {
    const product = new Array<number>(result.length + 1).fill(0);
    result.forEach((own, power) => {
      product[power] -= (own * centre) / reach;
      product[power + 1] += own / reach;
    });
    product[0] += coefficient;
    result = product;
  }
  return result.slice(0, coefficients.length);
}

export const valueOf = (coefficients: readonly number[], x: number): number => coefficients.reduceRight((sum, own) => sum * x + own, 0);

function explained(points: readonly XY[], at: (x: number) => number): number | null {
  const mean = points.reduce((sum, { y }) => sum + y, 0) / points.length;
  const all = points.reduce((sum, { y }) => sum + (y - mean) ** 2, 0);
  return all === 0 ? null : 1 - points.reduce((sum, { x, y }) => sum + (y - at(x)) ** 2, 0) / all;
}

const asFit = (points: readonly XY[], coefficients: readonly number[], at: (x: number) => number): Fit => ({
  ...{ coefficients, at },
  r2: explained(points, at),
});

/** A polynomial by least squares; null with fewer different places than it has coefficients. */
export function polynomialFit(points: readonly XY[], degree: number): Fit | null {
  if (new Set(points.map(({ x }) => x)).size <= degree) return null;
  const centred = orthogonalFit(points, degree);
  if (!centred) return null;
  const { coefficients, centre, reach } = centred;
  return { ...asFit(points, unscaled(centred), (x) => valueOf(coefficients, (x - centre) / reach)), centred };
}

const same = (value: number): number => value;

/** What a curve is a straight line in: of its places, and of its values. */
const IN_LOGARITHMS: Record<LineKind, { places: boolean; values: boolean }> = {
  linear: { places: false, values: false },
  logarithmic: { places: true, values: false },
  exponential: { places: false, values: true },
  power: { places: true, values: true },
};

/**
 * A straight line by least squares, or a curve that is one through logarithms, as is common practice. Null where there are too
 * few points, or logarithms of what has none.
 */
export function lineFit(kind: LineKind, points: readonly XY[]): LineFit | null {
  const { places, values } = IN_LOGARITHMS[kind];
  const [toX, toY, fromY] = [places ? Math.log : same, values ? Math.log : same, values ? Math.exp : same];
  const moved = points.map(({ x, y }) => ({ x: toX(x), y: toY(y) }));
  if (!moved.every(({ x, y }) => Number.isFinite(x) && Number.isFinite(y))) return null;
  const line = polynomialFit(moved, 1);
  if (!line) return null;
  const [a, b] = line.coefficients;
  const freedom = moved.length - 2;
  const middle = moved.reduce((sum, { x }) => sum + x, 0) / moved.length;
  const spread = moved.reduce((sum, { x }) => sum + (x - middle) ** 2, 0);
  const { coefficients: own, centre, reach: unit } = line.centred!;
  const variance = moved.reduce((sum, { x, y }) => sum + (y - line.at(x)) ** 2, 0) / freedom;
  return {
    ...asFit(points, [fromY(a), b], (x) => fromY(line.at(toX(x)))),
    ...(values ? { centred: { coefficients: [fromY(own[0]), own[1] / unit], centre: places ? Math.exp(centre) : centre, reach: 1 } } : {}),
    interval(x, confidence) {
      if (freedom < 1) return null;
      const at = toX(x);
      const reach = studentReach(confidence / 100, freedom) * Math.sqrt(variance * (1 + 1 / moved.length + (at - middle) ** 2 / spread));
      return { low: fromY(line.at(at) - reach), high: fromY(line.at(at) + reach) };
    },
  };
}

/** A curve fitted by least squares; null where it cannot be. */
export const curveFit = (kind: CurveKind, points: readonly XY[], degree = 2): Fit | null =>
  kind === 'polynomial' ? polynomialFit(points, degree) : lineFit(kind, points);

/** The mean of each point and those before it, as many as `length`; null where there are fewer. */
export const movingAverage = (values: readonly (number | null)[], length: number): (number | null)[] =>
  values.map((_, index) => {
    const own = values.slice(index - length + 1, index + 1);
    const known = own.filter((value) => value !== null);
    return index + 1 < length || known.length < length ? null : known.reduce((sum, value) => sum + value, 0) / length;
  });

/** Pearson's correlation; null where one of the two does not vary, or there are fewer than two pairs. */
export function correlation(points: readonly XY[]): number | null {
  const mean = (of: (point: XY) => number): number => points.reduce((sum, point) => sum + of(point), 0) / points.length;
  const [mx, my] = [mean(({ x }) => x), mean(({ y }) => y)];
  const [xx, yy, xy] = points.reduce(([a, b, c], { x, y }) => [a + (x - mx) ** 2, b + (y - my) ** 2, c + (x - mx) * (y - my)], [0, 0, 0]);
  return points.length < 2 || xx === 0 || yy === 0 ? null : xy / Math.sqrt(xx * yy);
}
