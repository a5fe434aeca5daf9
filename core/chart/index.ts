export { axisDrawing, type AxisDrawing, type AxisSeries } from './axis-series.ts';
export {
  chartFigure,
  drawnSeries,
  figureUnits,
  misfitOf,
  panelsOf,
  pointWords,
  type Category,
  type ChartFigure,
  type Panel,
  type Series,
  type SeriesKind,
} from './figure.ts';
export { CHART_KINDS_BY_NAME, chartKindOf, type ChartFamily, type ChartKind, type ChartShape, type Misfit } from './kinds.ts';
export { partsDrawing, type Part, type PartsDrawing } from './parts.ts';
export { pointsDrawing, pointsTrend, type Point, type PointsDrawing } from './points.ts';
export { isThroughTime, proposedKind, type Proposal } from './proposal.ts';
export { niceStep, scaleEnds, type Ends } from './scale.ts';
export { binsOf, boxesOf, quantile, type Bin, type Box } from './spread.ts';
export { chartWords } from './words.ts';
