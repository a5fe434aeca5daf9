import { pointsDrawing, pointsTrend, shadeOf, shadeScale, valuesOfMeasure } from '@bold-compass/core/chart';
import { figureText } from '@bold-compass/core/format';
import type { ChartConfiguration, ChartDataset } from 'chart.js';
import { LOCALE } from '../report/state-words.ts';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { valueScale } from './scales.ts';
import { isSameCell, targetOf } from './targets.ts';
import { between, CHART_FONT, faded } from './tokens.ts';

const [SMALLEST, LARGEST, USUAL] = [4, 26, 5];
/** So many points leave room for their names. */
const MOST_NAMED = 24;

/** A curve across points, which nothing is pointed at on. */
const lineThrough = (line: readonly { x: number; y: number }[], colour: string): ChartDataset<'bubble'> =>
  ({
    type: 'line',
    data: [...line],
    borderColor: colour,
    borderWidth: 1.5,
    borderDash: [5, 3],
    pointRadius: 0,
    pointHitRadius: 0,
    datalabels: { display: false },
  }) as unknown as ChartDataset<'bubble'>;

/** Members placed by two measures, a third as their area and a fourth as their colour. */
export function pointsChart(drawn: DrawnWith): ChartDrawing {
  const { figure, tokens, settings, chosen } = drawn;
  const { series, measures } = pointsDrawing(figure);
  const all = series.flatMap(({ points }) => points);
  const largest = Math.max(...all.map(({ size }) => size ?? 0), 0);
  const scale = shadeScale(valuesOfMeasure(figure, 3), null);
  const radius = (size: number | null): number =>
    size === null || largest === 0 ? USUAL : Math.max(SMALLEST, LARGEST * Math.sqrt(size / largest));
  const colour = (own: string, shade: number | null): string =>
    shade === null ? own : between(tokens.brass, tokens.sea, shadeOf(scale, shade));
  const targets = series.map(({ points, path, label }) =>
    points.map(({ category, x, y, size, shade }) => {
      const said = [x, y, size, shade].flatMap((value, index) =>
        measures[index] && value !== null ? [`${measures[index].label} ${figureText(value, measures[index].format, LOCALE)}`] : [],
      );
      const where = [figure.categories[category].fullLabel, label].filter((words) => words !== '').join(', ');
      return targetOf(drawn, { path, measure: 0 }, category, `${where}: ${said.join(', ')}`);
    }),
  );
  const trend = pointsTrend(figure, settings.trend);
  const config: ChartConfiguration<'bubble'> = {
    type: 'bubble',
    data: {
      datasets: series.map(({ label, points, colour: own }, index) => {
        const base = tokens.series[own % tokens.series.length];
        const isFaint = (at: number): boolean => chosen !== null && !isSameCell(targets[index][at].cell, chosen);
        return {
          label,
          data: points.map(({ x, y, size }) => ({ x, y, r: radius(size) })),
          backgroundColor: points.map(({ shade }, at) => faded(colour(base, shade), isFaint(at) ? 0.25 : 0.7)),
          borderColor: points.map(({ shade }) => colour(base, shade)),
          borderWidth: 1,
          hoverRadius: 2,
        };
      }),
    },
    options: {
      interaction: { mode: 'nearest', intersect: true },
      layout: { autoPadding: false, padding: { top: 12, right: 30 } },
      scales: {
        x: {
          ...valueScale(tokens, { format: measures[0].format, scale: settings.second, fromZero: false, title: measures[0].label }),
          grace: '6%',
        },
        y: {
          ...valueScale(tokens, {
            format: (measures[1] ?? measures[0]).format,
            scale: settings.scale,
            fromZero: false,
            title: measures[1]?.label,
          }),
          grace: '6%',
        },
      },
      plugins: {
        datalabels: {
          display: settings.values === 'always' || (settings.values === 'auto' && all.length <= MOST_NAMED) ? 'auto' : false,
          anchor: 'center',
          align: 'right',
          offset: ({ datasetIndex, dataIndex }) => radius(series[datasetIndex].points[dataIndex].size) + 2,
          color: tokens.ink,
          font: { family: CHART_FONT, size: 12 },
          formatter: (_value, { datasetIndex, dataIndex }) => figure.categories[series[datasetIndex].points[dataIndex].category].label,
        },
      },
    },
  };
  if (trend) config.data.datasets.push(lineThrough(trend.line, tokens.quiet));
  return { config: config as unknown as ChartConfiguration, targets: trend ? [...targets, []] : targets };
}
