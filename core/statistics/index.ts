export {
  correlation,
  curveFit,
  lineFit,
  movingAverage,
  polynomialFit,
  valueOf,
  type CurveKind,
  type Fit,
  type LineFit,
  type LineKind,
} from './regression.ts';
export { bestSmoothing, fitSmoothing, type SmoothingFit, type SmoothingModel } from './smoothing.ts';
export { forecastSeries, type ForecastMethod, type ForecastPoint, type SeriesForecast } from './forecast.ts';
export { studentReach } from './student.ts';
