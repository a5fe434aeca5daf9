import { leastSquares } from './least-squares.ts';
import { minimise } from './minimise.ts';
import { fisherAbove, studentReach } from './student.ts';

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
  /** Of the errors one step ahead, squared and added up, on the scale of the model. */
  squares: number;
  /**
   * The median of the value `ahead` steps after the last, and the ends of an interval around it that allows for what the first
   * states were estimated from.
   */
  forecast(ahead: number, confidence: number): { value: number; low: number; high: number };
}

interface States {
  level: number;
  slope: number;
  /** The season's parts, the next one first. */
  seasons: Float64Array;
}

interface Weights {
  alpha: number;
  beta: number;
  gamma: number;
  phi: number;
}

/** Runs a model through a series, writes its errors one step ahead, and answers with the states after the last value. */
function run(values: Float64Array, start: States, { alpha, beta, gamma, phi }: Weights, errors: Float64Array): States {
  let { level, slope } = start;
  const seasons = start.seasons.slice();
  const length = seasons.length;
  let at = 0;
  for (let index = 0; index < values.length; index++) {
    const before = level + phi * slope;
    const error = values[index] - before - (length > 0 ? seasons[at] : 0);
    errors[index] = error;
    level = before + alpha * error;
    slope = phi * slope + beta * error;
    if (length > 0) {
      seasons[at] += gamma * error;
      at = at + 1 === length ? 0 : at + 1;
    }
  }
  const next = Float64Array.from([...seasons.subarray(at), ...seasons.subarray(0, at)]);
  return { level, slope, seasons: next };
}

/** First states of which all others are sums: a level, a slope where there is one, and the season's parts, which add up to zero. */
function basis({ trend, season }: SmoothingModel): States[] {
  const length = season > 1 ? season : 0;
  const none = (): States => ({ level: 0, slope: 0, seasons: new Float64Array(length) });
  const states = [{ ...none(), level: 1 }];
  if (trend !== 'none') states.push({ ...none(), slope: 1 });
  for (let part = 0; part < length - 1; part++) {
    const own = none();
    own.seasons[part] = 1;
    own.seasons[length - 1] = -1;
    states.push(own);
  }
  return states;
}

const added = (states: readonly States[], shares: readonly number[]): States => ({
  level: states.reduce((sum, { level }, index) => sum + shares[index] * level, 0),
  slope: states.reduce((sum, { slope }, index) => sum + shares[index] * slope, 0),
  seasons: states[0].seasons.map((_, part) => states.reduce((sum, { seasons }, index) => sum + shares[index] * seasons[part], 0)),
});

const squared = (errors: Float64Array): number => {
  let sum = 0;
  for (const error of errors) sum += error * error;
  return sum;
};

/**
 * A model under some weights. Its errors are linear in its first states, so these need no search: those with the least squared
 * errors are found by least squares (chapter 3.1 has the model in that form).
 */
function underWeights(values: Float64Array, states: readonly States[], weights: Weights) {
  const nothing: States = { level: 0, slope: 0, seasons: new Float64Array(states[0].seasons.length) };
  const own = new Float64Array(values.length);
  const end = run(values, nothing, weights, own);
  const still = new Float64Array(values.length);
  const columns = states.map(() => new Float64Array(values.length));
  const ends = states.map((state, index) => run(still, state, weights, columns[index]));
  const solved = leastSquares(
    columns,
    own.map((error) => -error),
  );
  columns.forEach((column, at) => {
    const share = solved.solution[at];
    for (let index = 0; index < own.length; index++) own[index] += share * column[index];
  });
  return { squares: squared(own), end, ends, solved };
}

type Bounds = [number, number][];
/** Each weight within bounds: the slope's as a share of the level's, the season's as a share of what the level leaves. */
const SHARE: [number, number] = [0.0001, 0.9999];
const DAMPING: [number, number] = [0.8, 0.98];
/** Where searches begin: at the best two of these. The likelihood often has several peaks. */
const STARTS = [0.05, 0.3, 0.6, 0.9].flatMap((alpha) =>
  [0.01, 0.1, 0.4].flatMap((beta) => [0.01, 0.2].map((gamma) => ({ alpha, beta, gamma, phi: 0.95 }))),
);
const SEARCHES = 2;
/** Models that are fitted by all searches, of those that one search finds likely. */
const CLOSEST = 2;
/** Searches through longer seasons than this begin at one: each of their steps takes long. */
const LONG_SEASON = 24;

/** Fits one model by maximum likelihood, by some searches. Null where there are too few values for its numbers. */
export function fitSmoothing(series: readonly number[], model: SmoothingModel, searches = SEARCHES): SmoothingFit | null {
  const { trend, season, onLogarithms } = model;
  const [hasTrend, hasSeason, isDamped] = [trend !== 'none', season > 1, trend === 'damped'];
  // Weights, first states and the variance are all estimated.
  const parameters = 3 + (hasTrend ? 2 : 0) + (isDamped ? 1 : 0) + (hasSeason ? season : 0);
  if (series.length < Math.max(parameters + 2, 2 * season) || (onLogarithms && series.some((value) => value <= 0))) return null;
  const values = Float64Array.from(onLogarithms ? series.map(Math.log) : series);
  const states = basis(model);
  const weightsOf = (point: readonly number[]): Weights => {
    const rest = point.slice(1);
    const [alpha] = point;
    const beta = hasTrend ? rest.shift()! * alpha : 0;
    const gamma = hasSeason ? rest.shift()! * (1 - alpha) : 0;
    return { alpha, beta, gamma, phi: isDamped ? rest.shift()! : 1 };
  };
  const bounds: Bounds = [SHARE, ...(hasTrend ? [SHARE] : []), ...(hasSeason ? [SHARE] : []), ...(isDamped ? [DAMPING] : [])];
  const squares = (point: readonly number[]): number => underWeights(values, states, weightsOf(point)).squares;
  const starts = new Map(
    STARTS.map(({ alpha, beta, gamma, phi }) => {
      const start = [alpha, ...(hasTrend ? [beta] : []), ...(hasSeason ? [gamma] : []), ...(isDamped ? [phi] : [])];
      return [start.join(), start];
    }),
  );
  const valued = (point: readonly number[]): { point: readonly number[]; value: number } => ({ point, value: squares(point) });
  const nearest = [...starts.values()].map(valued).sort((a, b) => a.value - b.value);
  const searched = nearest.slice(0, season > LONG_SEASON ? 1 : searches).map(({ point }) => valued(minimise(squares, point, bounds)));
  const weights = weightsOf([...searched, nearest[0]].reduce((a, b) => (b.value < a.value ? b : a)).point);
  const { squares: least, end, ends, solved } = underWeights(values, states, weights);
  const last = added([end, ...ends], [1, ...solved.solution]);
  const n = values.length;
  const freedom = n - (parameters - 1);
  const variance = least / freedom;
  // Twice the negative logarithm of the likelihood without its constant, on the scale of the values (chapters 5.1 and 7).
  const jacobian = onLogarithms ? 2 * values.reduce((sum, value) => sum + value, 0) : 0;
  const aic = n * Math.log(Math.max(least, Number.MIN_VALUE)) + 2 * parameters + jacobian;
  const reaches = new Map<number, number>();
  const reachOf = (confidence: number): number => {
    const reach = reaches.get(confidence) ?? studentReach(confidence / 100, freedom);
    reaches.set(confidence, reach);
    return reach;
  };
  return {
    ...{ model, ...weights, level: added(states, solved.solution).level, variance, squares: least },
    aicc: aic + (2 * parameters * (parameters + 1)) / (n - parameters - 1),
    forecast(ahead, confidence) {
      const { value, spread } = project(last, weights, ahead);
      // Each first state moves the forecast by as much as what is left of it after the last value.
      const moved = ends.map((one) => project(one, weights, ahead).value);
      const reach = reachOf(confidence) * Math.sqrt(variance * (spread + solved.varies(moved)));
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

/** Up to how many whole seasons an information criterion alone would leave a season out that is plainly there. */
const FEW_SEASONS = 3;
const SIGNIFICANT = 0.01;

/**
 * Whether the time within the season explains enough of what a straight line leaves: the F test of a linear model with and
 * without an effect for each time (Draper and Smith, "Applied Regression Analysis", section 6.1), at one percent.
 */
export function hasSeason(values: readonly number[], season: number): boolean {
  const n = values.length;
  const freedom = n - season - 1;
  if (season < 2 || freedom < 1) return false;
  const own = Float64Array.from(values);
  const line = [Float64Array.from(own, () => 1), Float64Array.from(own, (_, index) => index / n)];
  const times = Array.from({ length: season - 1 }, (_, part) => Float64Array.from(own, (_value, index) => Number(index % season === part)));
  const left = (columns: Float64Array[]): number => {
    const { solution } = leastSquares(columns, own);
    return squared(own.map((value, index) => columns.reduce((rest, column, at) => rest - solution[at] * column[index], value)));
  };
  const [without, within] = [left(line), left([...line, ...times])];
  if (within <= 0) return without > 0;
  return fisherAbove(((without - within) / (season - 1) / within) * freedom, season - 1, freedom) < SIGNIFICANT;
}

/** The seasons to try: of a short series the test decides, since the criterion's penalty outgrows what two seasons can show. */
function seasonsFor(series: readonly number[], season: number, onLogarithms: boolean): number[] {
  if (season < 2) return [1];
  if (series.length >= FEW_SEASONS * season) return [1, season];
  const isThere = series.length >= 2 * season && hasSeason(onLogarithms ? series.map(Math.log) : series, season);
  return isThere ? [season] : [1];
}

/** The model with the smallest information criterion, among those with a season where that is plainly there. Null where a series is too short for any. */
export function bestSmoothing(series: readonly number[], season: number): SmoothingFit | null {
  const scales = series.every((value) => value > 0) ? [false, true] : [false];
  const tried = scales.map((onLogarithms) => ({ onLogarithms, seasons: seasonsFor(series, season, onLogarithms) }));
  const isSeasonal = tried.some(({ seasons }) => !seasons.includes(1));
  const fits = tried.flatMap(({ onLogarithms, seasons }) =>
    (['none', 'additive', 'damped'] as const).flatMap((trend) =>
      seasons.flatMap((length) =>
        isSeasonal && length === 1 ? [] : (fitSmoothing(series, { trend, season: length, onLogarithms }, 1) ?? []),
      ),
    ),
  );
  // Those in question are looked at more closely.
  const closest = [...fits]
    .sort((a, b) => a.aicc - b.aicc)
    .slice(0, CLOSEST)
    .flatMap(({ model }) => fitSmoothing(series, model) ?? []);
  return closest.reduce<SmoothingFit | null>((best, fit) => (best === null || fit.aicc < best.aicc ? fit : best), null);
}
