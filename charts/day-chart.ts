import { LOCALE } from '@bold-compass/core/format';
import { dayGridOf, middleOf, shadeOf, shadeScale } from '@bold-compass/core/chart';
import type { ChartConfiguration } from 'chart.js';
import { CHART_FONT, shadeColour } from './tokens.ts';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { noData } from './patterns.ts';
import { isSameCell, seriesTarget, stateColour } from './targets.ts';

/** Rows of a year, with the one that keeps it from the next. */
const ROWS = 8;
const WEEKDAYS = 7;

const weekdayName = new Intl.DateTimeFormat(LOCALE, { weekday: 'short', timeZone: 'UTC' });
const monthName = new Intl.DateTimeFormat(LOCALE, { month: 'short', timeZone: 'UTC' });
/** 5 January 1970 was a Monday. */
const MONDAY = 4;
const DAY = 86_400_000;
const weekday = (row: number): string => weekdayName.format(new Date((MONDAY + row) * DAY));
const month = (number: number): string => monthName.format(new Date(Date.UTC(2026, number - 1, 1)));

/** A value for each day, by colour: weeks are columns, weekdays rows. */
export function dayChart(drawn: DrawnWith): ChartDrawing {
  const { figure, settings, tokens, chosen } = drawn;
  const { series, days, years, columns, months } = dayGridOf(figure);
  const scale = shadeScale(
    days.flatMap(({ value }) => value ?? []),
    middleOf(settings),
  );
  const targets = days.map(({ category, value }) => (series && value !== null ? seriesTarget(drawn, series, category) : null));
  const missing = noData(tokens);
  const isChosen = (index: number): boolean => isSameCell(targets[index]?.cell ?? null, chosen);
  const rows = years.length * ROWS - 1;
  const monthAt = new Map(months.map(({ column, month: number }) => [column, month(number)]));
  const rowName = (row: number): string => {
    const [year, own] = [years[Math.floor(row / ROWS)], row % ROWS];
    if (own >= WEEKDAYS) return '';
    return own === 0 && year ? `${year}  ${weekday(0)}` : own % 2 === 0 ? weekday(own) : '';
  };
  const ticks = { color: tokens.quiet, font: { family: CHART_FONT, size: 12 }, autoSkip: false, maxRotation: 0, padding: 4 };
  const side = (length: number): object => ({
    ...{ type: 'linear', min: -0.5, max: length - 0.5, offset: false },
    ...{ border: { display: false }, grid: { display: false } },
    // The library would put its ticks where it finds them round.
    afterBuildTicks: (axis: { ticks: { value: number }[] }) => {
      axis.ticks = Array.from({ length }, (_, value) => ({ value }));
    },
  });
  const config = {
    type: 'matrix',
    data: {
      datasets: [
        {
          data: days.map(({ column, weekday: own, year, value }) => ({ x: column, y: year * ROWS + own, v: value })),
          backgroundColor: days.map(({ category, value }) =>
            value === null ? missing : (stateColour(drawn, series, category) ?? shadeColour(tokens, shadeOf(scale, value))),
          ),
          borderColor: days.map((_, index) => (isChosen(index) ? tokens.ink : tokens.paper)),
          borderWidth: days.map((_, index) => (isChosen(index) ? 2 : 1)),
          width: ({ chart }: { chart: { chartArea?: { width: number } } }) => (chart.chartArea?.width ?? 0) / Math.max(1, columns),
          height: ({ chart }: { chart: { chartArea?: { height: number } } }) => (chart.chartArea?.height ?? 0) / rows,
        },
      ],
    },
    options: {
      scales: {
        x: {
          ...side(columns),
          position: 'top',
          ticks: { ...ticks, align: 'start', callback: (value: number) => monthAt.get(value) ?? '' },
        },
        y: { ...side(rows), reverse: true, ticks: { ...ticks, callback: (value: number) => rowName(value) } },
      },
      plugins: { datalabels: { display: false } },
    },
  };
  return { config: config as unknown as ChartConfiguration, targets: [targets] };
}
