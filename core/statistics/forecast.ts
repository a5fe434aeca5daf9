import { lineFit, type LineKind } from './regression.ts';
import { bestSmoothing, fitSmoothing, type SmoothingFit, type SmoothingModel } from './smoothing.ts';

export interface ForecastPoint {
  value: number;
  low: number;
  high: number;
}

/** Exponential smoothing, or a straight line or curve through the values. */
export type ForecastMethod = 'smoothing' | LineKind;

/** What comes after a series, with how sure that is. */
export interface SeriesForecast {
  model: ({ method: 'smoothing' } & SmoothingModel) | { method: LineKind; r2: number | null };
  points: ForecastPoint[];
  /**
   * How well the same model would have done: the last values were held back and forecast from those before them. `error` is
   * the mean of the distances as shares of the values; null where a value is zero, or too few could be held back.
   */
  tested: { periods: number; error: number } | null;
}

interface Ahead {
  model: SeriesForecast['model'];
  at(ahead: number, confidence: number): ForecastPoint;
}

/** How a series goes on by some method; null where it is too short for it, or has values that it cannot take. */
function goesOn(series: readonly number[], season: number, method: ForecastMethod): Ahead | null {
  return method === 'smoothing' ? smoothed(bestSmoothing(series, season)) : alongLine(series, method);
}

const smoothed = (fit: SmoothingFit | null): Ahead | null =>
  fit && { model: { method: 'smoothing', ...fit.model }, at: (ahead, confidence) => fit.forecast(ahead, confidence) };

function alongLine(series: readonly number[], method: LineKind): Ahead | null {
  const fit = lineFit(
    method,
    series.map((y, index) => ({ x: index + 1, y })),
  );
  if (!fit?.interval(1, 80)) return null;
  return {
    model: { method, r2: fit.r2 },
    at: (ahead, confidence) => ({ value: fit.at(series.length + ahead), ...fit.interval(series.length + ahead, confidence)! }),
  };
}

/** Values that are held back to test a forecast. */
const HELD_BACK = 6;

function test(series: readonly number[], model: SeriesForecast['model']): SeriesForecast['tested'] {
  const periods = Math.min(HELD_BACK, Math.floor(series.length / 4));
  const held = series.slice(series.length - periods);
  if (periods === 0 || held.some((value) => value === 0)) return null;
  const before = series.slice(0, series.length - periods);
  const ahead = model.method === 'smoothing' ? smoothed(fitSmoothing(before, model)) : alongLine(before, model.method);
  if (!ahead) return null;
  const errors = held.map((value, index) => Math.abs(ahead.at(index + 1, 80).value - value) / Math.abs(value));
  return { periods, error: errors.reduce((sum, error) => sum + error, 0) / periods };
}

/**
 * Forecasts a series: by the exponential smoothing model that its information criterion chooses, or by regression on the number
 * of the period. `season` is the number of periods in a season, 1 for none. Null where the series is too short, or has values
 * that the method cannot take.
 */
export function forecastSeries(
  series: readonly number[],
  season: number,
  periods: number,
  confidence: 80 | 90 | 95,
  method: ForecastMethod = 'smoothing',
): SeriesForecast | null {
  const ahead = goesOn(series, season, method);
  if (!ahead) return null;
  return {
    model: ahead.model,
    points: Array.from({ length: periods }, (_, index) => ahead.at(index + 1, confidence)),
    tested: test(series, ahead.model),
  };
}
