import { minimise } from './minimise.ts';

/**
 * Exponential smoothing as state space models with additive errors: Hyndman, Koehler, Ord and Snyder, "Forecasting with
 * Exponential Smoothing" (Springer, 2008), chapters 2, 5, 6 and 7. Where all values are positive the same models are tried on
 * their logarithms, which makes trend and season multiplicative; information criteria are compared on the scale of the values.
 */
export interface SmoothingModel {
  trend: 'none' | 'additive' | 'damped';
  /** Periods in a season; 1 for none. */
  season: number;
  onLogarithms: boolean;
}

/** A model fitted to a series. */
export interface SmoothingFit {
  model: SmoothingModel;
  alpha: number;
  beta: number;
  gamma: number;
  phi: number;
  /** The level before the first value. */
  level: number;
  /** Of the errors one step ahead, on the scale of the model. */
  variance: number;
  /** Corrected information criterion of Akaike. */
  aicc: number;
  /** The median of the value `ahead` steps after the last, and the ends of an interval around it. */
  forecast(ahead: number, confidence: number): { value: number; low: number; high: number };
}

interface States {
  level: number;
  slope: number;
  /** The season's parts, the next one first. */
  seasons: number[];
}

interface Weights {
  alpha: number;
  beta: number;
  gamma: number;
  phi: number;
}

/** Runs a model through a series; returns the sum of squared errors and the states after the last value. */
function run(values: readonly number[], start: States, { alpha, beta, gamma, phi }: Weights): { squares: number; end: States } {
  let { level, slope } = start;
  const seasons = [...start.seasons];
  let squares = 0;
  for (let index = 0; index < values.length; index++) {
    const at = index % (seasons.length || 1);
    const season = seasons[at] ?? 0;
    const error = values[index] - (level + phi * slope + season);
    squares += error * error;
    level += phi * slope + alpha * error;
    slope = phi * slope + beta * error;
    if (seasons.length > 0) seasons[at] += gamma * error;
  }
  const next = seasons.length > 0 ? values.length % seasons.length : 0;
  return { squares, end: { level, slope, seasons: [...seasons.slice(next), ...seasons.slice(0, next)] } };
}

/** The sum of squared errors alone: a search asks for it thousands of times. `seasons` is written over. */
function squaresOf(
  values: Float64Array,
  seasons: Float64Array,
  levelBefore: number,
  slopeBefore: number,
  { alpha, beta, gamma, phi }: Weights,
): number {
  const length = seasons.length;
  let level = levelBefore;
  let slope = slopeBefore;
  let squares = 0;
  let at = 0;
  for (let index = 0; index < values.length; index++) {
    const before = level + phi * slope;
    const error = values[index] - before - (length > 0 ? seasons[at] : 0);
    squares += error * error;
    level = before + alpha * error;
    slope = phi * slope + beta * error;
    if (length > 0) {
      seasons[at] += gamma * error;
      at = at + 1 === length ? 0 : at + 1;
    }
  }
  return squares;
}

const mean = (values: readonly number[]): number => values.reduce((sum, value) => sum + value, 0) / values.length;

/** Where a search for the first states begins: means of the first seasons, and how they move (chapter 2.6.1). */
function firstStates(values: readonly number[], { trend, season }: SmoothingModel): States {
  if (season === 1) {
    const slope = trend === 'none' ? 0 : (values[Math.min(values.length - 1, 4)] - values[0]) / Math.min(values.length - 1, 4);
    return { level: values[0] - slope, slope, seasons: [] };
  }
  const [first, second] = [values.slice(0, season), values.slice(season, 2 * season)];
  const slope = trend === 'none' ? 0 : (mean(second) - mean(first)) / season;
  const middle = (season - 1) / 2;
  const parts = Array.from({ length: season }, (_, at) => {
    const own: number[] = [];
    for (let index = at; index < values.length; index += season) {
      const cycle = values.slice(index - at, index - at + season);
      if (cycle.length === season) own.push(values[index] - mean(cycle) - slope * (at - middle));
    }
    return mean(own);
  });
  const off = mean(parts);
  return { level: mean(first) - slope * (middle + 1), slope, seasons: parts.map((part) => part - off) };
}

/** The quantile of the standard normal distribution for a two-sided interval; the three that are offered, from tables. */
const NORMAL: Record<number, number> = { 80: 1.2815515655446004, 90: 1.6448536269514722, 95: 1.959963984540054 };

/** Fits one model. Null where there are too few values for its numbers. */
export function fitSmoothing(series: readonly number[], model: SmoothingModel): SmoothingFit | null {
  const { trend, season, onLogarithms } = model;
  const hasTrend = trend !== 'none';
  // Weights, first states and the variance are all estimated.
  const parameters = 3 + (hasTrend ? 2 : 0) + (trend === 'damped' ? 1 : 0) + (season > 1 ? season : 0);
  if (series.length < Math.max(parameters + 2, 2 * season) || (onLogarithms && series.some((value) => value <= 0))) return null;
  const values = onLogarithms ? series.map(Math.log) : [...series];
  const guess = firstStates(values, model);
  const spread = Math.max(...values) - Math.min(...values) || 1;
  const [trendAt, seasonAt, dampingAt] = [1, hasTrend ? 2 : 1, 1 + (hasTrend ? 1 : 0) + (season > 1 ? 1 : 0)];
  const weightsOf = (point: readonly number[]): Weights => {
    const [alpha] = point;
    const beta = hasTrend ? point[trendAt] * alpha : 0;
    const gamma = season > 1 ? point[seasonAt] * (1 - alpha) : 0;
    return { alpha, beta, gamma, phi: trend === 'damped' ? point[dampingAt] : 1 };
  };
  const weights: [number, number][] = [
    [0.0001, 0.9999],
    ...(hasTrend ? [[0.0001, 0.9999] as [number, number]] : []),
    ...(season > 1 ? [[0.0001, 0.9999] as [number, number]] : []),
    ...(trend === 'damped' ? [[0.8, 0.98] as [number, number]] : []),
  ];
  const statesOf = (point: readonly number[]): States => ({ ...guess, level: point[0], slope: hasTrend ? point[1] : 0 });
  const states: [number, number][] = [
    [guess.level - spread, guess.level + spread],
    ...(hasTrend ? [[guess.slope - spread, guess.slope + spread] as [number, number]] : []),
  ];
  const count = weights.length;
  const [own, parts] = [Float64Array.from(values), Float64Array.from(guess.seasons)];
  const scratch = new Float64Array(parts.length);
  const squares = (point: readonly number[]): number => {
    scratch.set(parts);
    return squaresOf(own, scratch, point[count], hasTrend ? point[count + 1] : 0, weightsOf(point));
  };
  const bounds = [...weights, ...states];
  const starts = [0.5, 0.1].map((alpha) => [
    alpha,
    ...(hasTrend ? [0.1] : []),
    ...(season > 1 ? [0.1] : []),
    ...(trend === 'damped' ? [0.95] : []),
    guess.level,
    ...(hasTrend ? [guess.slope] : []),
  ]);
  const found = starts.map((start) => minimise(squares, minimise(squares, start, bounds), bounds));
  const best = found.reduce((a, b) => (squares(b) < squares(a) ? b : a));
  const fitted = weightsOf(best);
  const start = statesOf(best.slice(count));
  const { squares: least, end } = run(values, start, fitted);
  const n = values.length;
  const variance = least / Math.max(1, n - (parameters - 1));
  // Twice the negative logarithm of the likelihood without its constant, on the scale of the values (chapters 5.1 and 7).
  const jacobian = onLogarithms ? 2 * values.reduce((sum, value) => sum + value, 0) : 0;
  const aic = n * Math.log(Math.max(least, Number.MIN_VALUE)) + 2 * parameters + jacobian;
  return {
    ...{ model, ...fitted, level: start.level, variance },
    aicc: aic + (2 * parameters * (parameters + 1)) / (n - parameters - 1),
    forecast(ahead, confidence) {
      const { value, spread: scale } = project(end, fitted, ahead);
      const reach = NORMAL[confidence] * Math.sqrt(variance * scale);
      const shown = (of: number): number => (onLogarithms ? Math.exp(of) : of);
      return { value: shown(value), low: shown(value - reach), high: shown(value + reach) };
    },
  };
}

/** The value some steps ahead, and how many times the variance of one step it varies (chapter 6.3, class 1). */
function project(
  { level, slope, seasons }: States,
  { alpha, beta, gamma, phi }: Weights,
  ahead: number,
): { value: number; spread: number } {
  let damped = 0;
  let spread = 1;
  let reach = 0;
  for (let step = 1; step <= ahead; step++) {
    damped += phi ** step;
    if (step === ahead) break;
    reach = alpha + beta * damped + (seasons.length > 0 && step % seasons.length === 0 ? gamma : 0);
    spread += reach * reach;
  }
  const season = seasons.length > 0 ? seasons[(ahead - 1) % seasons.length] : 0;
  return { value: level + damped * slope + season, spread };
}

/** The model with the smallest information criterion. Null where a series is too short for any. */
export function bestSmoothing(series: readonly number[], season: number): SmoothingFit | null {
  const scales = series.every((value) => value > 0) ? [false, true] : [false];
  const fits = scales.flatMap((onLogarithms) =>
    (['none', 'additive', 'damped'] as const).flatMap((trend) =>
      [...new Set([1, season])].flatMap((length) => fitSmoothing(series, { trend, season: length, onLogarithms }) ?? []),
    ),
  );
  return fits.reduce<SmoothingFit | null>((best, fit) => (best === null || fit.aicc < best.aicc ? fit : best), null);
}
