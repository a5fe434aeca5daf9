export { correlation, curveFit, movingAverage, polynomialFit, type CurveKind, type Fit } from './regression.ts';
export { bestSmoothing, fitSmoothing, type SmoothingFit, type SmoothingModel } from './smoothing.ts';
export { forecastSeries, type ForecastPoint, type SeriesForecast } from './forecast.ts';
