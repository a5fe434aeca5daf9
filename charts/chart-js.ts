import {
  ArcElement,
  BarController,
  BarElement,
  BubbleController,
  CategoryScale,
  Chart,
  DoughnutController,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  LogarithmicScale,
  PieController,
  PointElement,
  ScatterController,
  Tooltip,
} from 'chart.js';
import annotation from 'chartjs-plugin-annotation';
import dataLabels from 'chartjs-plugin-datalabels';
import { MatrixController, MatrixElement } from 'chartjs-chart-matrix';
import { Flow, SankeyController } from 'chartjs-chart-sankey';
import { TreemapController, TreemapElement } from 'chartjs-chart-treemap';
import { gaugeEnds } from './gauge-ends.ts';
import { endLabels } from './end-labels.ts';
import { manyPoints } from './many-points.ts';
import { CHART_FONT } from './tokens.ts';

Chart.register(
  ...[ArcElement, BarElement, LineElement, PointElement, MatrixElement, TreemapElement, Flow],
  ...[BarController, BubbleController, DoughnutController, LineController, PieController, ScatterController],
  ...[CategoryScale, LinearScale, LogarithmicScale],
  ...[Filler, Tooltip],
  // Tree maps look for the tooltip when they are registered.
  ...[MatrixController, TreemapController, SankeyController],
  ...[annotation, dataLabels, endLabels, gaugeEnds, manyPoints],
);
Chart.defaults.font.family = CHART_FONT;
Chart.defaults.font.size = 12;
Chart.defaults.maintainAspectRatio = false;

/** Draws a chart. The library's own type of all kinds together is more than the compiler can hold beside what they are told. */
export const newChart = (canvas: HTMLCanvasElement, config: object): Chart => new Chart(canvas, config as never);

export { Chart };
