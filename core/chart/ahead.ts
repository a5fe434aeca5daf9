import type { ChartResponse } from '../api/index.ts';
import { figureText, plainNumber } from '../format/index.ts';
import type { NumberFormat, Trend } from '../model/index.ts';
import { curveFit, movingAverage, valueOf, type Fit, type ForecastPoint, type SeriesForecast } from '../statistics/index.ts';
import type { Category, Series } from './series.ts';

const PERCENT: NumberFormat = { kind: 'percent', decimals: 1, unit: 'one' };
const USUAL_LENGTH = 3;

const NAMES: Record<Trend['kind'], string> = {
  linear: 'Linear trend',
  logarithmic: 'Logarithmic trend',
  exponential: 'Exponential trend',
  power: 'Power trend',
  polynomial: 'Polynomial trend',
  moving: 'Moving average',
};

/** Terms of a sum, with their signs between them. */
const summed = (terms: readonly string[]): string => terms.join(' + ').replaceAll('+ −', '− ');

type CurveKind = Exclude<Trend['kind'], 'moving'>;

/** A curve by its coefficients. */
const CURVES: Record<CurveKind, (coefficients: readonly number[], x: number) => number> = {
  linear: ([a, b], x) => a + b * x,
  logarithmic: ([a, b], x) => a + b * Math.log(x),
  exponential: ([a, b, centre = 0], x) => a * Math.exp(b * (x - centre)),
  power: ([a, b, centre = 1], x) => a * (x / centre) ** b,
  polynomial: valueOf,
};

/** The first coefficient of an exponential or power that is written as it is; others are told from where the places are. */
const NEAR = [1e-6, 1e9] as const;
/** How far a curve may lie from its written equation, as a share of its height. */
const TOLERANCE = 0.001;
const [FEWEST_DIGITS, MOST_DIGITS] = [4, 15];

/**
 * A fitted curve as an equation, in the unit that its values are shown in; x counts places from 1. Written with as many digits
 * as it takes to be the curve that is drawn; a parabola or more in a centred variable, whose powers stay small.
 */
function equation(kind: CurveKind, fit: Fit, points: readonly { x: number }[], locale: string): string {
  const { centred } = fit;
  const [first] = fit.coefficients;
  const isFar = centred !== undefined && kind !== 'polynomial' && !(first > NEAR[0] && first < NEAR[1]);
  const coefficients =
    centred && kind === 'polynomial' ? centred.coefficients : isFar ? [...centred.coefficients, centred.centre] : fit.coefficients;
  const place = centred && kind === 'polynomial' ? (x: number): number => (x - centred.centre) / centred.reach : (x: number): number => x;
  const heights = points.map(({ x }) => fit.at(x));
  const allowed = TOLERANCE * (Math.max(...heights) - Math.min(...heights) || Math.max(...heights.map(Math.abs)));
  const written = (digits: number): number[] => coefficients.map((value) => Number(value.toPrecision(digits)));
  let digits = FEWEST_DIGITS;
  while (
    digits < MOST_DIGITS &&
    points.some(({ x }, index) => Math.abs(CURVES[kind](written(digits), place(x)) - heights[index]) > allowed)
  )
    digits++;
  const say = (value: number): string => plainNumber(value, locale, digits);
  const [a, b, from] = coefficients.map(say);
  switch (kind) {
    case 'linear':
      return `y = ${summed([a, `${b} x`])}`;
    case 'logarithmic':
      return `y = ${summed([a, `${b} ln x`])}`;
    case 'exponential':
      return isFar ? `y = ${a} e^(${b} (${summed(['x', say(-coefficients[2])])}))` : `y = ${a} e^(${b} x)`;
    case 'power':
      return isFar ? `y = ${a} (x / ${from})^${b}` : `y = ${a} x^${b}`;
    case 'polynomial': {
      const terms = coefficients.map((value, power) => `${say(value)}${power === 0 ? '' : power === 1 ? ' z' : ` z^${power}`}`);
      const whole = (value: number): string => plainNumber(value, locale, MOST_DIGITS);
      const { centre, reach } = centred!;
      return `y = ${summed(terms)}, where z = (${summed(['x', whole(-centre)])}) / ${whole(reach)}`;
    }
  }
}

/** A curve through points, with its equation and fit in words; null where it cannot be fitted. */
export function trendThrough(
  trend: Trend,
  points: readonly { x: number; y: number }[],
  locale: string,
): { at(x: number): number; words: string } | null {
  if (trend.kind === 'moving') return null;
  const fit = curveFit(trend.kind, points, trend.degree);
  if (!fit) return null;
  const r2 = fit.r2 === null ? '' : `, R² ${fit.r2.toFixed(3)}`;
  return { at: fit.at, words: `${NAMES[trend.kind]}: ${equation(trend.kind, fit, points, locale)}${r2}` };
}

/** How many of the shown unit one is. */
export const scaleOf = ({ kind, unit }: NumberFormat): number =>
  kind === 'percent' ? 100 : { one: 1, thousand: 1e-3, million: 1e-6 }[unit];

/** The curve that runs through a series along its axis; periods that are not over do not count. */
export function trendOf(
  trend: Trend | undefined,
  values: readonly (number | null)[],
  isWhole: readonly boolean[],
  format: NumberFormat,
  locale: string,
): Series['trend'] {
  if (!trend) return null;
  const known = values.map((value, index) => (isWhole[index] ? value : null));
  if (trend.kind === 'moving') {
    const length = trend.degree ?? USUAL_LENGTH;
    return { values: movingAverage(known, length), words: `${NAMES.moving} of ${length}` };
  }
  // In the unit that is shown, so that the equation speaks of what the axis says.
  const scale = scaleOf(format);
  const points = known.flatMap((value, index) => (value === null ? [] : [{ x: index + 1, y: value * scale }]));
  const through = trendThrough(trend, points, locale);
  return through
    ? { values: values.map((_, index) => through.at(index + 1) / scale), words: through.words }
    : { values: [], words: `${NAMES[trend.kind]}: there are too few values, or values that have no logarithm.` };
}

/** How a forecast is made: "exponential smoothing (trend, additive season of 12)", "linear regression (R² 0.912)". */
function methodWords(model: SeriesForecast['model']): string {
  if (model.method !== 'smoothing') return `${model.method} regression${model.r2 === null ? '' : ` (R² ${model.r2.toFixed(3)})`}`;
  const { trend, season, onLogarithms } = model;
  const parts = [
    trend === 'none' ? '' : trend === 'damped' ? 'damped trend' : 'trend',
    season > 1 ? `${onLogarithms ? 'multiplicative' : 'additive'} season of ${season}` : '',
  ].filter((part) => part !== '');
  return `exponential smoothing${parts.length > 0 ? ` (${parts.join(', ')})` : ''}`;
}

/** What the intervals of a model leave out that was chosen by the values it is fitted to (Chatfield, JRSS A 158, 1995). */
const CHOSEN = ' Its intervals hold if this model is the right one; that it was chosen from these values makes them somewhat narrow.';

/** What comes after a series, by place along the axis. */
export function forecastOf({ forecast, rows }: ChartResponse, at: number, locale: string): Series['forecast'] {
  const own = forecast?.series[at];
  if (!forecast || !own)
    return forecast && !forecast.problem
      ? { points: [], words: 'The series is too short, has gaps, or values that the method cannot take, so it is not forecast.' }
      : null;
  const length = Math.max(rows.items.length, forecast.from + own.points.length);
  const points = Array.from({ length }, (_, index): ForecastPoint | null => own.points[index - forecast.from] ?? null);
  const method = `Forecast by ${methodWords(own.model)}.`;
  const { tested } = own;
  const test = tested
    ? ` The last ${tested.periods} periods, held back to test it, came within ${figureText(tested.error, PERCENT, locale)} on average.`
    : '';
  return { points, words: `${method}${test}${own.model.method === 'smoothing' ? CHOSEN : ''}` };
}

/** Members along the axis, with the periods that are forecast. */
export function withForecast(categories: readonly Category[], { forecast, root }: ChartResponse, isTime: boolean): readonly Category[] {
  if (!forecast) return categories;
  const added = forecast.ahead.slice(Math.max(0, categories.length - forecast.from)).map(({ labels: all }): Category => {
    const labels = all.slice(root.path.length);
    const name = [...labels].reverse().join(isTime ? ' ' : ', ');
    return {
      label: labels.at(-1) ?? '',
      name,
      fullLabel: `${name}, forecast`,
      groups: labels.slice(0, -1),
      isPartial: false,
      isForecast: true,
      header: null,
    };
  });
  return [...categories, ...added];
}
