import {
  axisDrawing,
  axisWords,
  beginsAtZero,
  chartKindOf,
  commonEnds,
  controlOf,
  drawnSeries,
  isLying,
  thinned,
  type AxisSeries,
} from '@bold-compass/core/chart';
import { LOCALE, cellText, figureText } from '@bold-compass/core/format';
import type { ChartSettings } from '@bold-compass/core/model';
import type { BarElement, ChartConfiguration, ChartDataset } from 'chart.js';
import type { Context } from 'chartjs-plugin-datalabels';
import { endsWithFigures } from './figure-room.ts';
import { endLabelRoom, endWidth as textWidth, type EndLabel } from './end-labels.ts';
import { axisLook } from './axis-looks.ts';
import type { ChartDrawing, ChartTarget, DrawnWith } from './drawing.ts';
import { pointNotes, type NotePlace } from './point-notes.ts';
import { referenceLines } from './reference-lines.ts';
import { memberScale, placeScale, valueScale } from './scales.ts';
import { isSameCell, seriesTarget, stateColour, targetOf } from './targets.ts';
import { CHART_FONT, faded, readableOn, type CanvasTokens } from './tokens.ts';

type AxisDataset = ChartDataset<'bar' | 'line', (number | [number, number] | null)[]>;

/** From so many places along the axis, or points in all, lines are thinned; so many pixels are a stretch of them. */
const [MANY_PLACES, MANY_POINTS, STRETCH] = [1_000, 6_000, 3];
const THIN = 1.2;
/** So many bars leave room for their figures. */
const [MOST_LABELLED, LABEL_WIDTH] = [26, 34];
/** More lines than these are named above the chart instead of at their ends. */
const MOST_END_LABELS = 8;

/** Whether lines are named where they end: not where bars, or a second axis, stand in the way. */
export const isNamedAtEnds = (series: readonly Pick<AxisSeries, 'as' | 'second'>[], { legend }: Pick<ChartSettings, 'legend'>): boolean =>
  legend === 'auto' && series.length <= MOST_END_LABELS && series.every(({ as, second }) => as !== 'column' && !second);

/** Fonts of the names and of the figures of bars, and the room beside these names, in pixels. */
const [NAME_FONT, FIGURE_FONT, BESIDE_BARS] = [`12.5px ${CHART_FONT}`, `600 12px ${CHART_FONT}`, 24];

/** Between the mark of a target and the figure beside it, in pixels. */
const BESIDE_MARK = 5;

const isBar = ({ as }: Pick<AxisSeries, 'as'>): boolean => as === 'column';

/** The colour of a series, where its points do not have their own. */
const seriesColour = (tokens: CanvasTokens, { colour }: Pick<AxisSeries, 'colour'>): string => tokens.series[colour];

/** The colours of bars, one for each: by their state, by their member, by what they do to the total, or, of one series alone, since they are below zero. */
function barColours({ tokens, settings, warns, figure }: DrawnWith, series: AxisSeries): string[] {
  const own = seriesColour(tokens, series);
  // Beside others a series is known by its colour, below zero too.
  const isAlone = figure.series.filter((one) => !one.hidden && isBar(one)).length === 1;
  return series.values.map((value, index) => {
    const state = stateColour({ settings, tokens }, series, index);
    if (state) return state;
    const place = figure.categories[index]?.place;
    if (place !== undefined) return tokens.series[place % tokens.series.length];
    if (series.roles) return { rise: tokens.good, fall: tokens.bad, total: tokens.quiet }[series.roles[index]];
    return warns && isAlone && figure.shape.hasNegative && value !== null && value < 0 ? tokens.bad : own;
  });
}

function barDataset(drawn: DrawnWith, series: AxisSeries, targets: ChartDrawing['targets'][number], stacked: boolean): AxisDataset {
  const { figure } = drawn;
  const look = axisLook(figure.kind);
  const colours = barColours(drawn, series);
  const isOther = (index: number): boolean => drawn.chosen !== null && !isSameCell(targets[index]?.cell ?? null, drawn.chosen);
  const isPartial = (index: number): boolean => series.isPartial || (drawn.figure.categories[index]?.isPartial ?? false);
  const hasChosen = targets.some((target) => isSameCell(target?.cell ?? null, drawn.chosen));
  return {
    type: 'bar',
    label: series.label,
    data: series.spans ? series.spans.map((span) => span && [span[0], span[1]]) : [...series.values],
    backgroundColor: colours.map((colour, index) =>
      hasChosen && isOther(index) ? faded(colour, 0.4) : isPartial(index) ? faded(colour, 0.55) : colour,
    ),
    hoverBackgroundColor: colours,
    maxBarThickness: look.thickness,
    categoryPercentage: 0.76,
    barPercentage: stacked || look.touches ? 1 : 0.9,
    ...(chartKindOf(figure.kind).inOneLine ? { grouped: false } : {}),
    ...(isError(figure, series) ? { maxBarThickness: 4 } : {}),
    borderColor: drawn.tokens.paper,
    borderWidth: stacked ? { top: 1, right: 1 } : 0,
    borderSkipped: false,
    minBarLength: 0,
  };
}

/** Targets as marks across their bars. */
const targetDataset = ({ tokens }: DrawnWith, series: AxisSeries): AxisDataset => ({
  ...{
    type: 'line',
    label: series.label,
    data: [...series.values],
    showLine: false,
    borderColor: tokens.brass,
    backgroundColor: tokens.brass,
  },
  ...{ pointStyle: 'line', pointRotation: 90, pointRadius: 9, pointHoverRadius: 10, pointBorderWidth: 3, pointHitRadius: 6 },
});

/** Lines to what is not whole are dashed, and areas below them paler. */
function partialSegments(
  { categories }: Pick<DrawnWith['figure'], 'categories'>,
  series: AxisSeries,
  colour: string,
  { arrangement }: Pick<ChartSettings, 'arrangement'>,
): Pick<ChartDataset<'line'>, 'segment'> {
  // The library fills no segments between the lines of a stack.
  const isStacked = series.as === 'area' && arrangement !== 'grouped';
  if (isStacked || (!series.isPartial && !categories.some(({ isPartial }) => isPartial))) return {};
  const isPartial = (to: number): boolean => series.isPartial || (categories[to]?.isPartial ?? false);
  const pale = faded(colour, 0.06);
  return {
    segment: {
      borderDash: ({ p1DataIndex }) => (isPartial(p1DataIndex) ? [4, 4] : undefined),
      ...(series.as === 'area'
        ? { backgroundColor: ({ p1DataIndex }: { p1DataIndex: number }) => (isPartial(p1DataIndex) ? pale : undefined) }
        : {}),
    },
  };
}

function lineDataset(drawn: DrawnWith, series: AxisSeries, targets: ChartDrawing['targets'][number]): AxisDataset {
  const { tokens, settings, figure } = drawn;
  const colour = seriesColour(tokens, series);
  const count = series.values.length;
  const isChosen = (index: number): boolean => isSameCell(targets[index]?.cell ?? null, drawn.chosen);
  const isByState = settings.colours === 'state' && series.states !== null;
  const isFirst = series.key === drawnSeries(figure)[0]?.key;
  const outside = new Set(isFirst ? controlOf(figure, settings)?.outside : []);
  const { pointsOnly } = axisLook(figure.kind);
  const pointColour = (index: number): string => stateColour(drawn, series, index) ?? (outside.has(index) ? tokens.bad : colour);
  return {
    type: 'line',
    label: series.label,
    data: [...series.values],
    borderColor: colour,
    backgroundColor: series.as === 'area' ? faded(colour, settings.arrangement === 'grouped' ? 0.14 : 0.75) : colour,
    borderWidth: 2,
    borderDash: series.dashed ? [2, 3] : [],
    ...partialSegments(figure, series, colour, settings),
    fill: series.as === 'area' ? (settings.arrangement === 'grouped' ? 'origin' : 'stack') : false,
    // The level of a period lies around its name, and changes between two of them.
    stepped: series.as === 'step' ? 'middle' : false,
    // One for each point only where they differ: many points are drawn sooner where they are alike.
    ...(isByState || pointsOnly || outside.size > 0 || targets.some((_, index) => isChosen(index))
      ? {
          pointRadius: targets.map((_, index) =>
            pointsOnly ? 6 : isChosen(index) ? 5 : isByState || outside.has(index) ? 4 : count === 1 ? 3 : 0,
          ),
          pointBackgroundColor: targets.map((_, index) => (isChosen(index) ? tokens.paper : pointColour(index))),
          pointBorderColor: targets.map((_, index) => pointColour(index)),
        }
      : { pointRadius: count === 1 ? 3 : 0, pointBackgroundColor: colour, pointBorderColor: colour }),
    ...(pointsOnly ? { showLine: false } : {}),
    pointBorderWidth: 2,
    pointHoverRadius: pointsOnly ? 7 : 4,
    pointHitRadius: 14,
    spanGaps: false,
  };
}

/** What is drawn beside a series: curves through it, and what is forecast after it. */
interface Beside {
  dataset: AxisDataset;
  targets: (ChartTarget | null)[];
}

/** A thin line over the values of a series. */
function trendLine({ tokens }: DrawnWith, { trend, label }: AxisSeries): Beside[] {
  if (!trend || trend.values.length === 0) return [];
  return [
    {
      dataset: {
        ...{ type: 'line', label: `Trend of ${label}`, data: [...trend.values], borderColor: tokens.quiet, borderWidth: 1.5 },
        ...{ borderDash: [5, 3], pointRadius: 0, pointHitRadius: 0, pointHoverRadius: 0 },
      },
      targets: [],
    },
  ];
}

/** A dashed line from the last value on, with a pale band as wide as its interval. */
function forecastLines({ tokens, settings, figure }: DrawnWith, series: AxisSeries): Beside[] {
  if (!series.forecast || series.forecast.points.length === 0) return [];
  const { points } = series.forecast;
  const first = points.findIndex((point) => point !== null);
  const before = series.values[first - 1] ?? null;
  const colour = seriesColour(tokens, series);
  const through = (of: (point: { value: number; low: number; high: number }) => number): (number | null)[] =>
    points.map((point, index) => (point ? of(point) : index === first - 1 ? before : null));
  const edge = (data: (number | null)[], fill: string | false): AxisDataset => ({
    ...{ type: 'line', data, borderWidth: 0, pointRadius: 0, pointHitRadius: 0, pointHoverRadius: 0 },
    ...{ fill, backgroundColor: faded(colour, 0.14) },
  });
  const say = (value: number): string => figureText(value, series.format, figure.locale);
  const targets = points.map((point, index) => {
    if (!point) return null;
    const interval = `${settings.forecast?.interval ?? 80} % interval ${say(point.low)} to ${say(point.high)}`;
    return { words: `${series.label}, ${figure.categories[index].fullLabel}: ${say(point.value)}, ${interval}`, cell: null, opens: false };
  });
  const line: AxisDataset = {
    ...{ type: 'line', label: `Forecast of ${series.label}`, data: through(({ value }) => value), borderColor: colour, borderWidth: 2 },
    ...{ borderDash: [5, 4], pointRadius: 0, pointHoverRadius: 4, pointHitRadius: 14, pointBackgroundColor: colour },
  };
  return [
    {
      dataset: edge(
        through(({ low }) => low),
        false,
      ),
      targets: [],
    },
    {
      dataset: edge(
        through(({ high }) => high),
        '-1',
      ),
      targets: [],
    },
    { dataset: line, targets },
  ];
}

/** Where the bars of a single series were in the period before: a thin mark at each. */
function trailMarks({ figure, settings, tokens }: DrawnWith, lying: boolean): Beside[] {
  const { among, series } = figure;
  const before = among && settings.through?.trails ? among.series[among.at - 1] : undefined;
  if (!before || series.filter(({ hidden }) => !hidden).length !== 1 || !series.every(isBar)) return [];
  const own = before.find(({ hidden }) => !hidden);
  if (!own) return [];
  const data = [...own.values];
  return [
    {
      dataset: {
        ...{ type: 'line', label: 'Before', data, showLine: false, borderColor: tokens.quiet, pointStyle: 'line' },
        ...{ pointRotation: lying ? 90 : 0, pointRadius: 8, pointBorderWidth: 2, pointHitRadius: 0, pointHoverRadius: 8 },
      },
      targets: [],
    },
  ];
}

/** A thin line from the smallest to the largest value of each member. */
function connections({ figure, tokens }: DrawnWith, series: readonly AxisSeries[]): Beside[] {
  if (!axisLook(figure.kind).connects) return [];
  const spans = figure.categories.map((_, index): [number, number] | null => {
    const known = series.flatMap(({ values }) => values[index] ?? []);
    return known.length > 1 ? [Math.min(...known), Math.max(...known)] : null;
  });
  return [
    {
      dataset: {
        ...{ type: 'bar', label: '', data: spans, backgroundColor: tokens.quiet, hoverBackgroundColor: tokens.quiet },
        ...{ barThickness: 2, grouped: false, borderSkipped: false },
      },
      targets: [],
    },
  ];
}

/** A scale whose figures are written at the bars: nothing is left of it but the line at zero. */
const zeroOnly = (tokens: CanvasTokens): object => ({
  ticks: { display: false },
  // Room for the figures at both ends.
  grace: '12%',
  grid: { drawTicks: false, color: ({ tick }: { tick?: { value: number } }) => (tick?.value === 0 ? tokens.ink : 'transparent') },
});

/** Whether a bar says how far a value beside it may lie off. */
const isError = ({ kind, shape }: DrawnWith['figure'], { spans }: AxisSeries): boolean =>
  axisLook(kind).spans && spans !== undefined && shape.measures > 2;

/** Where a bar begins and ends, in words; null where that says nothing that its value does not. */
function rangeWords({ figure }: Pick<DrawnWith, 'figure'>, { spans, format }: AxisSeries, index: number): string | null {
  const span = axisLook(figure.kind).spans ? spans?.[index] : undefined;
  if (!span) return null;
  const [from, to] = span.map((end) => cellText(end, format, LOCALE));
  return `${from} to ${to}`;
}

/** What a point, or a bar between two values, stands for. */
function pointTarget(drawn: DrawnWith, series: AxisSeries, index: number): ChartTarget {
  const range = rangeWords(drawn, series, index);
  const { fullLabel } = drawn.figure.categories[index];
  return range === null
    ? seriesTarget(drawn, series, index)
    : targetOf(drawn, series, index, () => `${series.label}, ${fullLabel}: ${range}`);
}

/** Figures within their bars, where these have the room. */
function insideBars({ settings, tokens }: DrawnWith, series: readonly AxisSeries[], text: (series: AxisSeries, index: number) => string) {
  return {
    display: ({ chart, datasetIndex, dataIndex }: Context): boolean => {
      if (settings.values === 'never' || !series[datasetIndex]) return false;
      const { x, base } = (chart.getDatasetMeta(datasetIndex).data[dataIndex] as BarElement).getProps(['x', 'base'], true) as {
        x: number;
        base: number;
      };
      return Math.abs(x - base) > textWidth(text(series[datasetIndex], dataIndex), FIGURE_FONT) + 6;
    },
    color: ({ datasetIndex }: Context): string =>
      settings.style !== 'monochrome' && series[datasetIndex] ? readableOn(tokens, seriesColour(tokens, series[datasetIndex])) : tokens.ink,
    ...{ anchor: 'center' as const, align: 'center' as const, offset: 0 },
  };
}

/** Charts along an axis: columns, bars, lines, areas, steps, and what is made of them. */
export function axisChart(given: DrawnWith): ChartDrawing {
  const { categories, series } = axisDrawing(given.figure);
  // Some kinds put members in another order, or add to them.
  const figure = { ...given.figure, categories };
  const drawn = { ...given, figure };
  const { settings, tokens, width } = drawn;
  const kind = chartKindOf(figure.kind);
  const lying = isLying(figure);
  const look = axisLook(figure.kind);
  const stacked = settings.arrangement !== 'grouped' && series.length > 1 && !kind.inOneLine;
  const isOfWholes = figure.shape.arrangement === 'share' && !kind.inOneLine;
  const isCrowded = categories.length > MANY_PLACES || categories.length * series.length > MANY_POINTS;
  const isMany = isCrowded && !series.some(isBar) && !stacked;
  /** The places of each series that are drawn. */
  const places = series.map(({ values }) => (isMany ? thinned(values, Math.ceil(width / STRETCH)) : values.map((_, index) => index)));
  const targets = series.map((own, at) => places[at].map((index) => (own.values[index] === null ? null : pointTarget(drawn, own, index))));
  const bars = series.filter(isBar);
  const drawnBars = bars.length * categories.length;
  // Two ends are wider than one: between periods there is no room for them.
  const hasRoom = drawnBars <= MOST_LABELLED && (lying || (!look.spans && drawnBars * LABEL_WIDTH <= width));
  const isErrors = series.some((own) => isError(figure, own));
  const labelsBars = bars.length > 0 && !isErrors && (settings.values === 'always' || (settings.values === 'auto' && hasRoom && !stacked));
  const hasSecond = series.some(({ second }) => second);
  const endNames: EndLabel[] =
    series.length < 2 || !isNamedAtEnds(series, settings)
      ? []
      : series.map((own, dataset) => ({
          dataset,
          text: own.label,
          colour: settings.style === 'monochrome' ? tokens.ink : seriesColour(tokens, own),
        }));
  const value = (second: boolean): ReturnType<typeof valueScale> => {
    const own = series.filter((one) => one.second === second);
    return valueScale(tokens, {
      format: own[0]?.format ?? { kind: 'number', decimals: 0, unit: 'one' },
      scale: own[0]?.isShare || isOfWholes ? { min: 0, max: 1 } : second ? settings.second : settings.scale,
      fromZero: kind.fromZero || (!look.spans && own.some(beginsAtZero)),
      ends: commonEnds(figure, second),
      grid: !second,
      ...(hasSecond ? { title: axisWords(own, LOCALE) } : {}),
    });
  };
  const axis = lying ? 'x' : 'y';
  // What is stacked, or put in another order, has no line of its own to go on with.
  const isPlain = settings.arrangement === 'grouped' && !kind.inOneLine && !kind.calculates && !isMany;
  const beside = isPlain
    ? series.flatMap((own) =>
        [...trendLine(drawn, own), ...forecastLines(drawn, own), ...trailMarks(drawn, lying)].map((one) => ({
          targets: one.targets,
          dataset: { ...one.dataset, order: -1, [`${axis}AxisID`]: own.second ? 'second' : axis },
        })),
      )
    : [];
  const behind = connections(drawn, series).map((one) => ({ ...one, dataset: { ...one.dataset, order: 2 } }));
  const isMark = (index: number): boolean => look.targets && index === 1;
  const datasets = series.map((own, index) => ({
    ...(isMark(index)
      ? targetDataset(drawn, own)
      : isBar(own)
        ? barDataset(drawn, own, targets[index], stacked)
        : lineDataset(drawn, own, targets[index])),
    // Lines lie over bars, which are drawn from the last to the first.
    order: isBar(own) && !isMark(index) ? 1 : 0,
    stack: stacked ? (own.second ? 'second' : 'first') : undefined,
    [`${axis}AxisID`]: own.second ? 'second' : axis,
    // Thin lines are drawn sooner, and tell many points apart better.
    ...(isMany ? { data: places[index].map((x) => ({ x, y: own.values[x] })), segment: undefined, borderWidth: THIN } : {}),
  }));
  const most = Math.max(...series.flatMap(({ values }) => values.map((one) => Math.abs(one ?? 0))), 0);
  /** Where a note stands: at the end of its bar, or on its line. */
  const noteAt = (own: number, category: number): NotePlace | null => {
    const below = stacked ? series.slice(0, own).reduce((sum, { values }) => sum + (values[category] ?? 0), 0) : 0;
    const reached = below + (series[own].values[category] ?? 0);
    const [along, up] = [(category + 0.5) / categories.length, most === 0 ? 0 : reached / most];
    return lying
      ? { x: reached, y: category, fromLeft: up, fromBottom: 1 - along }
      : { x: category, y: reached, fromLeft: along, fromBottom: up };
  };
  const text = (own: AxisSeries, index: number): string => rangeWords(drawn, own, index) ?? cellText(own.values[index], own.format, LOCALE);
  const hasMarks = series.some((_, index) => isMark(index));
  /** How far the mark of its target lies past the end of a bar. */
  function aheadOf(own: AxisSeries, index: number): number {
    const target = hasMarks ? series[1].values[index] : null;
    const value = own.values[index];
    if (target === null || value === null || own === series[1]) return 0;
    return value < 0 ? Math.min(0, target - value) : Math.max(0, target - value);
  }
  /** The scale of lying bars with their figures: these never lie on the names of members, nor outside. */
  const figureEnds = (): { min: number; max: number } | null => {
    if (!lying || !labelsBars || stacked || kind.inOneLine || settings.scale.logarithmic) return null;
    const names = Math.max(0, ...categories.map(({ label, groups }) => textWidth([...groups, label].join(' · '), NAME_FONT)));
    const labelled = bars.flatMap((own) =>
      own.values.flatMap((one, index) =>
        one === null ? [] : [{ value: one + aheadOf(own, index), width: textWidth(text(own, index), FIGURE_FONT) }],
      ),
    );
    const ends = endsWithFigures(labelled, Math.max(0, width - names - BESIDE_BARS), commonEnds(figure, false) ?? undefined);
    return ends && { min: settings.scale.min ?? ends.min, max: settings.scale.max ?? ends.max };
  };
  const besideRanges =
    look.spans && lying && labelsBars
      ? Math.max(0, ...bars.flatMap((own) => own.values.map((_, index) => textWidth(text(own, index), FIGURE_FONT)))) + BESIDE_MARK
      : 0;
  /** Where figures stand at the bars nothing is left of the scale; ranges, which need not begin at zero, keep theirs. */
  const shown = look.spans ? { grace: '4%' } : look.figuresInside || (lying && labelsBars) ? zeroOnly(tokens) : {};
  const config: ChartConfiguration<'bar' | 'line', (number | [number, number] | null)[]> = {
    type: 'bar',
    data: {
      labels: categories.map(({ label }) => label),
      datasets: [...(datasets as AxisDataset[]), ...beside.map(({ dataset }) => dataset), ...behind.map(({ dataset }) => dataset)],
    },
    options: {
      indexAxis: lying ? 'y' : 'x',
      ...(isMany ? { parsing: false as const, normalized: true } : {}),
      interaction: { mode: 'nearest', intersect: false, axis: lying ? 'y' : 'x' },
      layout: {
        padding: {
          top: labelsBars && !lying ? 18 : 10,
          right: Math.max(endLabelRoom(endNames, textWidth), lying && labelsBars && stacked ? 48 : 8, besideRanges),
        },
      },
      scales: {
        [lying ? 'y' : 'x']: isMany ? placeScale(tokens, categories) : memberScale(tokens, categories, { lying, width, stacked }),
        [axis]: { ...value(false), stacked, ...shown, ...figureEnds() },
        ...(hasSecond ? { second: { ...value(true), position: lying ? 'top' : 'right', axis } } : {}),
      },
      plugins: {
        endLabels: { labels: endNames },
        annotation: { annotations: [...referenceLines(drawn, series, axis), ...pointNotes(drawn, series, categories, noteAt)] },
        datalabels: {
          display: ({ datasetIndex }) =>
            labelsBars &&
            series[datasetIndex] !== undefined &&
            !isMark(datasetIndex) &&
            isBar(series[datasetIndex]) &&
            (settings.values === 'always' || bars.length <= 2),
          anchor: ({ datasetIndex, dataIndex }) => ((series[datasetIndex].values[dataIndex] ?? 0) < 0 ? 'start' : 'end'),
          align: ({ datasetIndex, dataIndex }) => {
            const isBelow = (series[datasetIndex].values[dataIndex] ?? 0) < 0;
            return lying ? (isBelow ? 'left' : 'right') : isBelow ? 'bottom' : 'top';
          },
          // A figure does not lie on the mark of its target.
          offset: ({ chart, datasetIndex, dataIndex }) => {
            const ahead = aheadOf(series[datasetIndex], dataIndex);
            const scale = chart.scales[axis];
            const room = Math.abs(scale.getPixelForValue(ahead) - scale.getPixelForValue(0));
            return hasMarks ? room + BESIDE_MARK : 1;
          },
          color: tokens.ink,
          font: { family: CHART_FONT, size: 12, weight: 600 },
          formatter: (_value, { datasetIndex, dataIndex }) => text(series[datasetIndex], dataIndex),
          ...(look.figuresInside ? insideBars(drawn, series, text) : {}),
        },
      },
    },
  };
  return { config: config as unknown as ChartConfiguration, targets: [...targets, ...[...beside, ...behind].map((one) => one.targets)] };
}
