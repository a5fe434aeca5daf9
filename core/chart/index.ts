export type { ChosenCell } from './chosen-cell.ts';
export { axisDrawing, axisWords, figureUnits, type AxisDrawing, type AxisSeries } from './axis-series.ts';
export {
  chartFigure,
  drawnSeries,
  legendSeries,
  valuesOfMeasure,
  misfitOf,
  periodWords,
  pointWords,
  type ChartFigure,
  type ChartPeriod,
} from './figure.ts';
export { CHART_KINDS_BY_NAME, chartKindOf, type ChartFamily, type ChartKind, type ChartShape, type Misfit } from './kinds.ts';
export { isLying } from './kinds.ts';
export { dayGridOf, type DayGrid, type GridDay } from './day-grid.ts';
export { flowsOf, type Flow, type FlowsDrawing } from './flows.ts';
export { notesBelow, shadeKey, shownChart, type ChartView, type ShownChart } from './shown-chart.ts';
export { slopesOf, type Slope } from './slopes.ts';
export { logarithmMisfit } from './logarithm.ts';
export { notesAt, noteWords, type NoteAt } from './notes.ts';
export { partsDrawing, type Part, type PartsDrawing } from './parts.ts';
export { correlationWords, pointsDrawing, pointsTrend, type Point, type PointsDrawing } from './points.ts';
export { isThroughTime, proposedKind, type Proposal } from './proposal.ts';
export { middleOf, shadeOf, shadeScale, type ShadeScale } from './shades.ts';
export { niceStep, scaleEnds, type Ends } from './scale.ts';
export { binsOf, boxesOf, quantile, type Bin, type Box } from './spread.ts';
export { chartsOfPeriods, commonEnds, firstShown, isPastColours, panelsOf, type Panel } from './small-charts.ts';
export { controlOf, controlWords, type Control } from './control.ts';
export { controlLimits, isOutside, referenceValue, type ControlLimits } from './reference.ts';
export { chartSketch, type ChartSketch } from './sketch.ts';
export { thinned } from './thinning.ts';
export { chartWords } from './words.ts';
export { beginsAtZero, plainCategory, type Category, type Series, type SeriesKind } from './series.ts';
