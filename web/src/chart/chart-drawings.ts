import type { ChartKindName } from '@bold-compass/core/model';
import { axisChart } from './axis-chart.ts';
import type { DrawChart } from './drawing.ts';
import { gridChart } from './grid-chart.ts';
import { funnelChart, roundChart, treemapChart } from './parts-chart.ts';
import { pointsChart } from './points-chart.ts';
import { boxChart, distributionChart } from './spread-chart.ts';

const DRAWINGS: Record<Exclude<ChartKindName, 'map'>, DrawChart> = {
  column: axisChart,
  bar: axisChart,
  line: axisChart,
  area: axisChart,
  step: axisChart,
  waterfall: axisChart,
  pareto: axisChart,
  pie: roundChart,
  ring: roundChart,
  funnel: funnelChart,
  treemap: treemapChart,
  scatter: pointsChart,
  bubble: pointsChart,
  heat: gridChart,
  box: boxChart,
  distribution: distributionChart,
};

/** What draws a kind of chart; shapes of countries are fetched when there is a map. */
export const drawingOf = async (kind: ChartKindName): Promise<DrawChart> =>
  kind === 'map' ? (await import('./map-chart.ts')).mapChart : DRAWINGS[kind];
