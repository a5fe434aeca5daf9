import { binsOf, boxesOf, drawnSeries, type Ends } from '@bold-compass/core/chart';
import { LOCALE, cellText, countWords, figureText } from '@bold-compass/core/format';
import type { NumberFormat } from '@bold-compass/core/model';
import type { ChartConfiguration, ChartDataset, ScaleOptionsByType } from 'chart.js';
import type { ChartDrawing, ChartTarget, DrawnWith } from './drawing.ts';
import { memberScale, valueScale } from './scales.ts';
import { seriesTarget } from './targets.ts';
import { CHART_FONT, faded } from './tokens.ts';

const COUNT = { kind: 'number', decimals: 0, unit: 'one' } as const;
const MEMBERS = { one: 'member', many: 'members' };

type Bars = ChartDataset<'bar', [number, number][]>;

/** Boxes from quartile to quartile with the median across, whiskers, and members beyond them as points. */
export function boxChart(drawn: DrawnWith): ChartDrawing {
  const { figure, tokens, settings, width } = drawn;
  const [series] = drawnSeries(figure);
  const boxes = boxesOf(figure);
  const say = (value: number): string => figureText(value, series.format, LOCALE);
  const words = boxes.map(
    ({ label, count, median, quartiles: [low, high] }) =>
      `${label}: median ${say(median)}, half of ${countWords(count, MEMBERS, LOCALE)} from ${say(low)} to ${say(high)}`,
  );
  const groupTarget = (index: number): ChartTarget => {
    const member = figure.categories.findIndex(({ groups }) => (groups.join(', ') || 'All') === boxes[index].label);
    const header = figure.categories[member]?.header;
    const side = header?.path.slice(0, -1) ?? [];
    return { words: words[index], cell: header ? { side, top: series.path, measure: drawn.measures[series.measure] } : null, opens: false };
  };
  const bar = (data: [number, number][], part: Partial<Bars>): Bars => ({
    data,
    type: 'bar',
    grouped: false,
    maxBarThickness: 34,
    ...part,
  });
  const outliers = boxes.flatMap(({ outliers: own }, box) => own.map((one) => ({ ...one, box })));
  // The median is a bar as high as a line.
  const all = boxes.flatMap(({ whiskers }) => whiskers);
  const hair = (Math.max(...all) - Math.min(...all)) / 240;
  const datasets = [
    bar(
      boxes.map(({ quartiles: [low, high] }) => [low, high]),
      { backgroundColor: faded(tokens.sea, 0.32), borderColor: tokens.sea, borderWidth: 1, borderSkipped: false },
    ),
    bar(
      boxes.map(({ median }) => [median - hair, median + hair]),
      { backgroundColor: tokens.sea },
    ),
    bar(
      boxes.map(({ whiskers: [low], quartiles }) => [low, quartiles[0]]),
      { backgroundColor: tokens.sea, barThickness: 1.5 },
    ),
    bar(
      boxes.map(({ whiskers: [, high], quartiles }) => [quartiles[1], high]),
      { backgroundColor: tokens.sea, barThickness: 1.5 },
    ),
    {
      type: 'line',
      data: outliers.map(({ box, value }) => ({ x: boxes[box].label, y: value })),
      showLine: false,
      pointRadius: 3,
      pointBackgroundColor: faded(tokens.brass, 0.6),
      pointBorderColor: tokens.brass,
    },
  ];
  const config = {
    type: 'bar',
    data: { labels: boxes.map(({ label }) => label), datasets },
    options: {
      interaction: { mode: 'nearest', intersect: true },
      layout: { padding: { top: 10 } },
      scales: {
        x: memberScale(
          tokens,
          boxes.map(({ label }) => ({ label, groups: [] })),
          { lying: false, width, stacked: false },
        ),
        y: valueScale(tokens, { format: series.format, scale: settings.scale, fromZero: false }),
      },
      plugins: { datalabels: { display: false } },
    },
  };
  const ofGroups = boxes.map((_, index) => groupTarget(index));
  const ofOutliers = outliers.map(({ category }) => seriesTarget(drawn, series, category));
  return { config: config as unknown as ChartConfiguration, targets: [ofGroups, ofGroups, ofGroups, ofGroups, ofOutliers] };
}

const NAMED = 6;
/** The room that a bound needs below the bars, in pixels. */
const BOUND_WIDTH = 56;
const MOST_BOUNDS = 60;

/** The axis below ranges of values: its ticks stand at their bounds and nowhere else. */
function boundsAxis(tokens: DrawnWith['tokens'], format: NumberFormat, ends: Ends): ScaleOptionsByType<'linear'> {
  const scale = valueScale(tokens, { format, scale: {}, fromZero: false, ends, grid: false });
  const every = { maxTicksLimit: MOST_BOUNDS, autoSkip: false };
  return { ...scale, offset: false, border: { ...scale.border, display: true, color: tokens.quiet }, ticks: { ...scale.ticks, ...every } };
}

/** How many members fall into each range of values. */
export function distributionChart(drawn: DrawnWith): ChartDrawing {
  const { figure, tokens, width } = drawn;
  const [series] = drawnSeries(figure);
  const bins = binsOf(figure);
  const say = (value: number): string => cellText(value, series.format, LOCALE);
  const targets = bins.map(({ from, to, categories }): ChartTarget => {
    const names = categories.slice(0, NAMED).map((category) => figure.categories[category].label);
    const rest = categories.length - names.length;
    const named = names.length === 0 ? '' : ` (${names.join(', ')}${rest > 0 ? ` and ${rest} more` : ''})`;
    return {
      words: `From ${say(from)} to below ${say(to)}: ${countWords(categories.length, MEMBERS, LOCALE)}${named}`,
      cell: null,
      opens: false,
    };
  });
  const [first, last] = [bins[0]?.from ?? 0, bins[bins.length - 1]?.to ?? 1];
  // Each bar between its bounds, which stand at the edges: as many of them as have room.
  const step = (bins[0] ? bins[0].to - first : 1) * Math.ceil((bins.length * BOUND_WIDTH) / width);
  const config: ChartConfiguration<'bar', { x: number; y: number }[]> = {
    type: 'bar',
    data: {
      datasets: [
        {
          data: bins.map(({ from, to, categories }) => ({ x: (from + to) / 2, y: categories.length })),
          ...{ backgroundColor: tokens.sea, categoryPercentage: 1, barPercentage: 0.96, grouped: false },
        },
      ],
    },
    options: {
      interaction: { mode: 'nearest', intersect: false, axis: 'x' },
      layout: { padding: { top: 18 } },
      scales: {
        x: boundsAxis(tokens, series.format, { min: first, max: last, step }),
        y: {
          ...valueScale(tokens, { format: COUNT, scale: {}, fromZero: true }),
          title: { display: true, text: 'Members', color: tokens.quiet, font: { family: CHART_FONT, size: 12 } },
        },
      },
      plugins: {
        datalabels: {
          display: ({ dataIndex }) => bins[dataIndex].categories.length > 0,
          formatter: ({ y }: { y: number }) => String(y),
          anchor: 'end',
          align: 'top',
          offset: 0,
          color: tokens.ink,
          font: { family: CHART_FONT, size: 12 },
        },
      },
    },
  };
  return { config: config as unknown as ChartConfiguration, targets: [targets] };
}
