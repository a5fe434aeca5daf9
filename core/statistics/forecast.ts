import { bestSmoothing, type SmoothingFit, type SmoothingModel } from './smoothing.ts';

export interface ForecastPoint {
  value: number;
  low: number;
  high: number;
}

/** What comes after a series, with how sure that is. */
export interface SeriesForecast {
  model: SmoothingModel;
  points: ForecastPoint[];
  /**
   * How well the same method would have done: the last values were held back and forecast from those before them. `error` is
   * the mean of the distances as shares of the values; null where a value is zero, or too few could be held back.
   */
  tested: { periods: number; error: number } | null;
}

/** Values that are held back to test a forecast. */
const HELD_BACK = 6;

function test(series: readonly number[], season: number): SeriesForecast['tested'] {
  const periods = Math.min(HELD_BACK, Math.floor(series.length / 4));
  const held = series.slice(series.length - periods);
  if (periods === 0 || held.some((value) => value === 0)) return null;
  const fit = bestSmoothing(series.slice(0, series.length - periods), season);
  if (!fit) return null;
  const errors = held.map((value, index) => Math.abs(fit.forecast(index + 1, 80).value - value) / Math.abs(value));
  return { periods, error: errors.reduce((sum, error) => sum + error, 0) / periods };
}

/**
 * Forecasts a series by the exponential smoothing model that its information criterion chooses. `season` is the number of
 * periods in a season, 1 for none. Null where the series is too short.
 */
export function forecastSeries(
  series: readonly number[],
  season: number,
  periods: number,
  confidence: 80 | 90 | 95,
): SeriesForecast | null {
  const fit: SmoothingFit | null = bestSmoothing(series, season);
  if (!fit) return null;
  return {
    model: fit.model,
    points: Array.from({ length: periods }, (_, index) => fit.forecast(index + 1, confidence)),
    tested: test(series, season),
  };
}
