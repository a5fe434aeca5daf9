import type { ChartKindName, MapSettings } from '@bold-compass/core/model';
import type { QueryClient } from '@tanstack/vue-query';
import { axisChart } from './axis-chart.ts';
import type { DrawChart } from './drawing.ts';
import { dayChart } from './day-chart.ts';
import { flowChart } from './flow-chart.ts';
import { gaugeChart } from './gauge-chart.ts';
import { gridChart } from './grid-chart.ts';
import { packedChart } from './packed-chart.ts';
import { funnelChart, roundChart } from './parts-chart.ts';
import { pointsChart } from './points-chart.ts';
import { slopeChart } from './slope-chart.ts';
import { boxChart, distributionChart } from './spread-chart.ts';
import { treemapChart } from './treemap-chart.ts';

const DRAWINGS: Record<Exclude<ChartKindName, 'map' | 'cloud'>, DrawChart> = {
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
  bullet: axisChart,
  dumbbell: axisChart,
  slope: slopeChart,
  range: axisChart,
  diverging: axisChart,
  days: dayChart,
  flow: flowChart,
  gauge: gaugeChart,
  packed: packedChart,
};

/** What draws a kind of chart; what is large or rare is fetched when it is drawn. */
export async function drawingOf(kind: ChartKindName, queries: QueryClient, report: string, map: MapSettings): Promise<DrawChart> {
  if (kind === 'map') return (await import('./map/map-chart.ts')).mapDrawing(queries, report, map);
  if (kind === 'cloud') return (await import('./cloud-chart.ts')).cloudChart;
  return DRAWINGS[kind];
}
