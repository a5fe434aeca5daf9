import { axisDrawing, chartKindOf, dayGridOf, flowsOf, isLying, partsDrawing, type ChartFigure } from '@bold-compass/core/chart';
import type { ChartKindName } from '@bold-compass/core/model';
import { axisChart } from './axis-chart.ts';
import type { DrawChart } from './drawing.ts';
import type { MapSources } from './map/map-chart.ts';
import { dayChart } from './day-chart.ts';
import { flowChart } from './flow-chart.ts';
import { gaugeChart } from './gauge-chart.ts';
import { gridChart } from './grid-chart.ts';
import { packedChart } from './packed-chart.ts';
import { funnelChart, pieChart, ringChart } from './parts-chart.ts';
import { pointsChart } from './points-chart.ts';
import { slopeChart } from './slope-chart.ts';
import { boxChart, distributionChart } from './spread-chart.ts';
import { treemapChart } from './treemap-chart.ts';

/** How a kind of chart is shown. */
interface ChartView {
  /** What draws it; what is large or rare is fetched when it is drawn. */
  drawing(sources: MapSources): DrawChart | Promise<DrawChart>;
  /** Whether it is laid out by looking at pixels, which a page does not have. */
  needsPixels?: true;
  /** How high it is drawn, in pixels, where its exhibit has no height of its own. */
  height(figure: ChartFigure): number;
}

/** In pixels. */
const [USUAL, LOWEST, HIGHEST] = [250, 130, 1_600];
const [BAR, ROW, STEP, SLOPE, BAND] = [23, 26, 34, 22, 30];
/** A year of days, and what stands above them. */
const [YEAR, TOP] = [148, 24];
const TALL = USUAL + 50;

const lines = (count: number, each: number): number => Math.min(HIGHEST, Math.max(LOWEST, count * each + 34));

/** Bars that lie have a line each. */
function axisHeight(figure: ChartFigure): number {
  if (!isLying(figure)) return USUAL;
  const { kind, shape } = figure;
  const isBeside = shape.arrangement === 'grouped' && !chartKindOf(kind).inOneLine;
  return lines(shape.members * (isBeside ? Math.max(1, axisDrawing(figure).series.length * 0.7) : 1), BAR);
}

function flowHeight(figure: ChartFigure): number {
  const { sources, targets } = flowsOf(figure);
  return Math.max(USUAL, lines(Math.max(sources.length, targets.length), BAND));
}

const drawn = (draw: DrawChart, height: ChartView['height'] = () => USUAL): ChartView => ({ drawing: () => draw, height });
const axis = drawn(axisChart, axisHeight);
const points = drawn(pointsChart);

/** Every kind of chart as it is shown. */
export const CHART_VIEWS: Record<ChartKindName, ChartView> = {
  column: axis,
  bar: axis,
  line: axis,
  area: axis,
  step: axis,
  waterfall: axis,
  pareto: axis,
  bullet: axis,
  dumbbell: axis,
  range: axis,
  diverging: axis,
  pie: drawn(pieChart, () => TALL),
  ring: drawn(ringChart, () => TALL),
  funnel: drawn(funnelChart, (figure) => lines(partsDrawing(figure).parts.length, STEP)),
  treemap: drawn(treemapChart, () => TALL),
  packed: drawn(packedChart, () => TALL),
  cloud: { drawing: async () => (await import('./cloud-chart.ts')).cloudChart, height: () => USUAL, needsPixels: true },
  scatter: points,
  bubble: points,
  heat: drawn(gridChart, ({ shape }) => lines(shape.members, ROW)),
  days: drawn(dayChart, (figure) => dayGridOf(figure).years.length * YEAR + TOP),
  flow: drawn(flowChart, flowHeight),
  slope: drawn(slopeChart, ({ shape }) => lines(shape.members, SLOPE)),
  box: drawn(boxChart),
  distribution: drawn(distributionChart),
  map: {
    drawing: async (sources) => (await import('./map/map-chart.ts')).mapDrawing(sources),
    height: () => USUAL + 130,
  },
  gauge: drawn(gaugeChart),
};

/** Whether a kind of chart can be drawn on a page of paper; what cannot stands there as its table. */
export const isForPaper = (kind: ChartKindName): boolean => CHART_VIEWS[kind].needsPixels !== true;

/** What draws a kind of chart. */
export const drawingOf = async (kind: ChartKindName, sources: MapSources): Promise<DrawChart> => CHART_VIEWS[kind].drawing(sources);

/** What stands above and below the drawing of an exhibit with a height of its own: title, margins; a legend; and the way through periods. */
const [AROUND, LEGEND, PLAYER] = [66, 30, 44];

/** How high a chart is drawn, in pixels: as its members need, or as high as its exhibit leaves room. */
export function chartHeight(figure: ChartFigure, height: number | undefined, hasLegend: boolean): number {
  if (height === undefined) return CHART_VIEWS[figure.kind].height(figure);
  return Math.max(LOWEST, height - AROUND - (hasLegend ? LEGEND : 0) - (figure.period ? PLAYER : 0));
}
