import { drawnSeries, middleOf, shadeOf, shadeScale } from '@bold-compass/core/chart';
import { LOCALE, cellText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { noData } from './patterns.ts';
import { linesByTurns, onLine } from './scales.ts';
import { isSameCell, stateColour, seriesTarget } from './targets.ts';
import { CHART_FONT, shadeColour } from './tokens.ts';

/** Cells at least so wide have room for their figures. */
const WIDTH_OF_FIGURE = 44;
/** What the names of rows take, about. */
const BESIDE = 120;
/** From so dark on, paper reads better than ink. */
const DARK = 0.62;
/** What the names of columns take, about, and how high a row with a name is at least. */
const [ABOVE, LEAST_ROW] = [40, 14];

/** A value for each pair of members, by colour: pale to sea, or, where values are on both sides of zero, from red over paper to sea. */
export function gridChart(drawn: DrawnWith): ChartDrawing {
  const { figure, tokens, settings, width, height, chosen } = drawn;
  // One measure has one colour for each value: the first.
  const series = drawnSeries(figure).filter(({ measure }) => measure === 0);
  const cells = series.flatMap((own, column) =>
    own.values.flatMap((value, category) => (value === null ? [] : [{ column, category, value, own }])),
  );
  const empty = series.flatMap((own, column) => own.values.flatMap((value, category) => (value === null ? [{ column, category }] : [])));
  const values = cells.map(({ value }) => value);
  const scale = shadeScale(values, middleOf(settings));
  const shareOf = (value: number): number => shadeOf(scale, value);
  const targets = cells.map(({ own, category }) => seriesTarget(drawn, own, category));
  const labelsCells =
    settings.values === 'always' || (settings.values === 'auto' && (width - BESIDE) / Math.max(1, series.length) >= WIDTH_OF_FIGURE);
  const columns = series.map(({ label }) => label);
  const lines = linesByTurns(columns, (width - BESIDE) / Math.max(1, columns.length));
  const memberAxis = (labels: readonly string[], position: 'top' | 'left'): object => ({
    type: 'category',
    labels: [...labels],
    position,
    offset: true,
    border: { display: false },
    grid: { display: false },
    ticks: {
      color: position === 'left' ? tokens.ink : tokens.quiet,
      font: { family: CHART_FONT, size: 12.5 },
      maxRotation: 0,
      autoSkipPadding: 8,
      ...(position === 'top' && lines !== null
        ? { autoSkip: false, callback: (_value: unknown, index: number) => onLine(labels[index] ?? '', lines - 1 - (index % lines), lines) }
        : {}),
      // Every row is named where its line has the room.
      ...(position === 'left' ? { autoSkip: (height - ABOVE) / Math.max(1, labels.length) < LEAST_ROW } : {}),
    },
  });
  const rows = figure.categories.map(({ fullLabel }) => fullLabel);
  const cellSize = {
    width: ({ chart }: { chart: { chartArea?: { width: number } } }) => (chart.chartArea?.width ?? 0) / Math.max(1, columns.length),
    height: ({ chart }: { chart: { chartArea?: { height: number } } }) => (chart.chartArea?.height ?? 0) / Math.max(1, rows.length),
  };
  const config = {
    type: 'matrix',
    data: {
      datasets: [
        {
          data: cells.map(({ column, category, value }) => ({ x: columns[column], y: rows[category], v: value })),
          backgroundColor: cells.map(
            ({ own, category, value }) => stateColour(drawn, own, category) ?? shadeColour(tokens, shareOf(value)),
          ),
          borderColor: cells.map((_, index) => (isSameCell(targets[index].cell, chosen) ? tokens.ink : tokens.paper)),
          borderWidth: cells.map((_, index) => (isSameCell(targets[index].cell, chosen) ? 2 : 1)),
          ...cellSize,
        },
        {
          data: empty.map(({ column, category }) => ({ x: columns[column], y: rows[category] })),
          ...{ backgroundColor: noData(tokens), borderColor: tokens.paper, borderWidth: 1, datalabels: { display: false } },
          ...cellSize,
        },
      ],
    },
    options: {
      scales: { x: memberAxis(columns, 'top'), y: { ...memberAxis(rows, 'left'), reverse: false } },
      plugins: {
        datalabels: {
          display: labelsCells,
          color: ({ dataIndex }: { dataIndex: number }) => {
            const { own, category, value } = cells[dataIndex];
            return Math.abs(shareOf(value)) > DARK || stateColour(drawn, own, category) !== null ? tokens.paper : tokens.ink;
          },
          font: { family: CHART_FONT, size: 12 },
          formatter: (_value: unknown, { dataIndex }: { dataIndex: number }) =>
            cellText(cells[dataIndex].value, cells[dataIndex].own.format, LOCALE),
        },
      },
    },
  };
  return { config: config as unknown as ChartConfiguration, targets: [targets, []] };
}
