import { partsDrawing, type Part, type Series } from '@bold-compass/core/chart';
import { LOCALE, cellText, figureText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import type { AnnotationOptions } from 'chartjs-plugin-annotation';
import type { ChartDrawing, ChartTarget, DrawnWith } from './drawing.ts';
import { memberScale, valueScale } from './scales.ts';
import { isSameCell, stateColour, targetOf } from './targets.ts';
import { CHART_FONT, faded, SERIF_FONT } from './tokens.ts';

const SHARE = { kind: 'percent', decimals: 1, unit: 'one' } as const;
/** Smaller parts have no room for words. */
const SMALLEST_LABELLED = 0.03;

/** The parts of a chart, with what they stand for and their colours. */
interface PartsOf {
  drawn: DrawnWith;
  parts: readonly Part[];
  targets: ChartTarget[];
  colours: string[];
  whole: string;
  series: Series | null;
}

/** What the kinds of this family have in common. */
export function partsOf(drawn: DrawnWith): PartsOf {
  const { figure, tokens, chosen } = drawn;
  const { series, parts, whole } = partsDrawing(figure);
  const share = (value: number | null): string => figureText(value, SHARE, LOCALE);
  const targets = parts.map(({ category, value, share: part }) => {
    const words = (): string => `${figure.categories[category].fullLabel}: ${figureText(value, series!.format, LOCALE)} (${share(part)})`;
    return targetOf(drawn, series!, category, words);
  });
  const hasChosen = targets.some(({ cell }) => isSameCell(cell, chosen));
  const colours = parts.map(({ colour, category }, index) => {
    const own = stateColour(drawn, series, category) ?? tokens.series[colour % tokens.series.length];
    return hasChosen && !isSameCell(targets[index].cell, chosen) ? faded(own, 0.4) : own;
  });
  return { drawn, parts, targets, colours, series, whole: series ? figureText(whole, series.format, LOCALE) : '' };
}

export const pieChart = (drawn: DrawnWith): ChartDrawing => roundChart(drawn, false);
export const ringChart = (drawn: DrawnWith): ChartDrawing => roundChart(drawn, true);

/** Slices of a circle, named beside them; of a ring the whole stands in its middle. */
function roundChart(drawn: DrawnWith, isRing: boolean): ChartDrawing {
  const { parts, targets, colours, whole } = partsOf(drawn);
  const { tokens, settings } = drawn;
  const config: ChartConfiguration<'doughnut', number[]> = {
    type: 'doughnut',
    data: {
      labels: parts.map(({ label }) => label),
      datasets: [
        { data: parts.map(({ value }) => value), backgroundColor: colours, borderColor: tokens.paper, borderWidth: 2, hoverOffset: 4 },
      ],
    },
    options: {
      cutout: isRing ? '64%' : 0,
      layout: { padding: { top: 24, bottom: 24, left: 96, right: 96 } },
      plugins: {
        annotation: {
          // Its types know no such label yet.
          annotations: (isRing
            ? { whole: { type: 'doughnutLabel', content: [whole], color: tokens.ink, font: { family: SERIF_FONT, size: 24, weight: 600 } } }
            : {}) as AnnotationOptions[],
        },
        datalabels: {
          display: ({ dataIndex }) => settings.values !== 'never' && (parts[dataIndex].share ?? 0) >= SMALLEST_LABELLED,
          anchor: 'end',
          align: 'end',
          offset: 4,
          clamp: true,
          textAlign: 'center',
          color: tokens.ink,
          font: { family: CHART_FONT, size: 12.5 },
          formatter: (_value, { dataIndex }) => [parts[dataIndex].label, figureText(parts[dataIndex].share, SHARE, LOCALE)],
        },
      },
    },
  };
  const unnamed = parts.filter(({ share }) => settings.values === 'never' || (share ?? 0) < SMALLEST_LABELLED);
  return {
    config: config as unknown as ChartConfiguration,
    targets: [targets],
    unnamed: unnamed.map(({ label, share }) => `${label} ${figureText(share, SHARE, LOCALE)}`),
  };
}

/** Steps below each other, each as wide as what is left. */
export function funnelChart(drawn: DrawnWith): ChartDrawing {
  const { parts, targets, colours } = partsOf(drawn);
  const { tokens, figure, width } = drawn;
  const { series } = partsDrawing(figure);
  const [first] = parts;
  const config: ChartConfiguration<'bar', [number, number][]> = {
    type: 'bar',
    data: {
      labels: parts.map(({ label }) => label),
      datasets: [
        {
          data: parts.map(({ value }) => [-value / 2, value / 2]),
          backgroundColor: colours,
          categoryPercentage: 0.94,
          barPercentage: 1,
        },
      ],
    },
    options: {
      indexAxis: 'y',
      interaction: { mode: 'nearest', intersect: false, axis: 'y' },
      scales: {
        x: { ...valueScale(tokens, { format: series!.format, scale: {}, fromZero: true, grid: false }), display: false },
        y: memberScale(
          tokens,
          parts.map(({ label }) => ({ label, groups: [] })),
          { lying: true, width, stacked: false },
        ),
      },
      plugins: {
        datalabels: {
          anchor: 'center',
          align: 'center',
          color: tokens.ink,
          backgroundColor: faded(tokens.paper, 0.85),
          borderRadius: 3,
          padding: { left: 5, right: 5, top: 1, bottom: 1 },
          font: { family: CHART_FONT, size: 12.5, weight: 600 },
          formatter: (_value, { dataIndex }) =>
            `${cellText(parts[dataIndex].value, series!.format, LOCALE)} · ${figureText(parts[dataIndex].value / first.value, SHARE, LOCALE)}`,
        },
      },
    },
  };
  return { config: config as unknown as ChartConfiguration, targets: [targets] };
}
