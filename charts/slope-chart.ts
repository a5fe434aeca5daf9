import { drawnSeries, slopesOf, type Slope } from '@bold-compass/core/chart';
import { LOCALE, cellText } from '@bold-compass/core/format';
import type { ChartConfiguration } from 'chart.js';
import { CHART_FONT } from './tokens.ts';
import type { ChartDrawing, DrawnWith } from './drawing.ts';
import { endLabelRoom, endWidth, type EndLabel } from './end-labels.ts';
import { isSameCell, seriesTarget, stateColour } from './targets.ts';

/** A point, and the same where it is chosen, in pixels. */
const [POINT, CHOSEN] = [4, 6];
/** Between the lines and their names, in pixels. */
const BESIDE = 22;
/** What the scale leaves above and below the lines, of their height. */
const MARGIN = 0.03;
/** Names take so much of the width at most; longer ones end in "…" and stand whole below. */
const MOST_NAMED = 0.5;

/** The name with the figure, as long as there is room for it. */
function nameOf(label: string, figure: string, room: number): string {
  const whole = `${label}  ${figure}`;
  if (endWidth(whole) <= room) return whole;
  let short = label;
  while (short.length > 1 && endWidth(`${short}…  ${figure}`) > room) short = short.slice(0, -1);
  return `${short.trimEnd()}…  ${figure}`;
}

/** Members as lines between the places, with their names and figures at the ends. */
export function slopeChart(drawn: DrawnWith): ChartDrawing {
  const { figure, settings, tokens, width, warns } = drawn;
  const series = drawnSeries(figure);
  const { places, slopes } = slopesOf(figure);
  const { logarithmic, min, max } = settings.scale;
  const colourOf = ({ category, went, values }: Slope): string => {
    const last = values.findLastIndex((value) => value !== null);
    const byState = stateColour(drawn, series[last] ?? null, category);
    if (byState) return byState;
    const { place } = figure.categories[category];
    if (place !== undefined) return tokens.series[place % tokens.series.length];
    if (went === 'down') return warns ? tokens.bad : tokens.series[1];
    return went === 'up' ? tokens.series[0] : tokens.quiet;
  };
  const targets = slopes.map(({ category, values }) =>
    values.map((value, at) => (value === null ? null : seriesTarget(drawn, series[at], category))),
  );
  const text = (value: number | null, at: number): string => cellText(value, series[at].format, LOCALE);
  const room = width * MOST_NAMED;
  const lastPlace = series.length - 1;
  const labels = slopes.flatMap(({ label, values, ...slope }, dataset): EndLabel[] => {
    const own = { dataset, colour: colourOf({ label, values, ...slope }) };
    const first = values.findIndex((value) => value !== null);
    const last = values.findLastIndex((value) => value !== null);
    return [
      ...(first < lastPlace ? [{ ...own, side: 'left' as const, text: nameOf(label, text(values[first], first), room) }] : []),
      ...(last > 0
        ? [{ ...own, text: first < lastPlace && last > first ? text(values[last], last) : nameOf(label, text(values[last], last), room) }]
        : []),
    ];
  });
  const roomAt = (side: 'left' | 'right'): number =>
    endLabelRoom(
      labels.filter((label) => (label.side ?? 'right') === side),
      endWidth,
      BESIDE,
    );
  // Figures stand at the lines: the scale is as long as these, those of other charts beside it too.
  const all = drawnSeries({ series: figure.among?.series.flat() ?? series }).flatMap(({ values }) =>
    values.filter((value) => value !== null),
  );
  const [least, most] = all.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity]);
  const margin = (most - least) * MARGIN || 1;
  const config: ChartConfiguration<'line', (number | null)[]> = {
    type: 'line',
    data: {
      labels: places,
      datasets: slopes.map((slope, dataset) => {
        const colour = colourOf(slope);
        const isChosen = (at: number): boolean => isSameCell(targets[dataset][at]?.cell ?? null, drawn.chosen);
        return {
          ...{ label: slope.label, data: [...slope.values], borderColor: colour, backgroundColor: colour, borderWidth: 2, spanGaps: true },
          pointRadius: slope.values.map((_, at) => (isChosen(at) ? CHOSEN : POINT)),
          pointBackgroundColor: slope.values.map((_, at) => (isChosen(at) ? tokens.paper : colour)),
          ...{ pointBorderColor: colour, pointBorderWidth: 2, pointHoverRadius: CHOSEN, pointHitRadius: 12 },
        };
      }),
    },
    options: {
      interaction: { mode: 'nearest', intersect: false, axis: 'xy' },
      layout: { padding: { left: roomAt('left'), right: roomAt('right'), bottom: 6 } },
      scales: {
        x: {
          ...{ type: 'category', position: 'top', border: { display: false } },
          grid: { color: tokens.rule, drawTicks: false },
          ticks: { color: tokens.ink, font: { family: CHART_FONT, size: 12.5, weight: 600 }, maxRotation: 0, autoSkip: false, padding: 8 },
        },
        y: logarithmic
          ? { type: 'logarithmic', display: false, min, max }
          : { type: 'linear', display: false, min: min ?? least - margin, max: max ?? most + margin },
      },
      plugins: { endLabels: { labels, gap: BESIDE }, datalabels: { display: false } },
    },
  };
  const cut = slopes.filter((_, dataset) => labels.some((label) => label.dataset === dataset && label.text.includes('…')));
  return { config: config as unknown as ChartConfiguration, targets, unnamed: cut.map(({ label }) => label), unnamedAs: 'In full' };
}
