import type { ChartResponse, Header } from '../api/index.ts';
import { parseIsoDate, periodRange } from '../calendar/index.ts';
import { pathKey } from '../crosstab/index.ts';
import { figureText, listWords, unitWords } from '../format/index.ts';
import type { State } from '../indicators/index.ts';
import { fieldPlace, measureNamed, seriesName, SERIES_COLOURS, type Chart, type ChartKindName, type Dataset } from '../model/index.ts';
import { forecastOf, trendOf, withForecast } from './ahead.ts';
import { chartKindOf, type ChartShape } from './kinds.ts';
import { isThroughTime } from './proposal.ts';
import type { Category, Series, SeriesKind } from './series.ts';

/** What a chart shows before anything draws it. */
export interface ChartFigure {
  kind: ChartKindName;
  categories: readonly Category[];
  series: readonly Series[];
  shape: ChartShape;
  /** The words for what stands along the axis: "Month". */
  along: string;
  /** Members that everything is drawn below. */
  root: ChartResponse['root'];
  /** The value of each measure over all that is drawn. */
  totals: readonly (number | null)[];
  /** What is to be said of trends and forecasts. */
  notes: readonly string[];
  locale: string;
}

/** The label of a member with those of what it is in: "Jan 2026", "Sweden, Nordic". */
const fullLabel = (labels: readonly string[], isTime: boolean): string => [...labels].reverse().join(isTime ? ' ' : ', ');

/** Whether a member is a period that goes on after a day. */
function isUnfinished(dataset: Dataset, fields: readonly string[], { path, role }: Header, dataTo: number): boolean {
  const member = path.at(-1);
  if (role !== 'member' || member == null) return false;
  const place = fieldPlace(dataset, fields[path.length - 1]);
  if (place.kind !== 'period') return false;
  const range = periodRange(place.level.period, member, place.dimension.yearStart);
  return range !== undefined && range.first <= dataTo && range.last > dataTo;
}

function categoriesOf({ rows, root }: ChartResponse, isTime: boolean, isPartial: (header: Header) => boolean): Category[] {
  return rows.items.map((header) => {
    if (header.role === 'total') return { label: 'All', fullLabel: 'All', groups: [], isPartial: false, isForecast: false, header };
    const labels = header.labels.slice(root.path.length);
    const partial = isPartial(header);
    const full = fullLabel(labels, isTime);
    return {
      ...{ label: labels.at(-1) ?? '', fullLabel: partial ? `${full} to date` : full, groups: labels.slice(0, -1) },
      ...{ isPartial: partial, isForecast: false, header },
    };
  });
}

/** The states of one measure in one column. */
function statesOf({ states }: ChartResponse, at: number): (State | null)[] | null {
  if (!states?.some((row) => row[at])) return null;
  return states.map((row) => row[at] ?? null);
}

const seriesKindOf = (kind: ChartKindName): SeriesKind => (kind === 'line' || kind === 'area' || kind === 'step' ? kind : 'column');

/** In whose words a chart is, and how far its data goes. */
export interface ChartWords {
  locale: string;
  /** The last day that there is data for, as an ISO 8601 date. */
  dataTo: string;
}

/** A chart over the figures of an answer. `dataset` has the measures as they are counted in the chart. Throws UnknownNameError. */
export function chartFigure(dataset: Dataset, chart: Chart, answer: ChartResponse, { locale, dataTo }: ChartWords): ChartFigure {
  const { side, top, cells, chart: settings } = chart;
  const isTime = isThroughTime(dataset, { side });
  const hasSeriesField = top.fields.length > 0;
  const last = parseIsoDate(dataTo) ?? Infinity;
  const categories = categoriesOf(answer, isTime, (header) => isUnfinished(dataset, side.fields, header, last));
  const { family } = chartKindOf(settings.kind);
  /** Values of periods that are over: what there is of one that is not says nothing of the whole. */
  const whole = categories.map(({ isPartial }) => !isPartial);
  const headers = answer.columns.items;
  /** Members that all series are in are not said with each. */
  const common = headers[0]?.labels.findIndex((label, level) => headers.some(({ labels }) => labels[level] !== label)) ?? 0;
  const isTimeSeries = isThroughTime(dataset, { side: top });
  const seriesLabel = (labels: readonly string[]): string =>
    fullLabel(labels.slice(common < 0 ? -1 : Math.min(common, labels.length - 1)), isTimeSeries);
  const series = headers.flatMap((header, column) =>
    cells.map((cell, measure): Series => {
      const own = measureNamed(dataset, cell.measure);
      const heading = cell.heading ?? own.label;
      const member = hasSeriesField ? seriesLabel(header.labels) : '';
      const key = seriesName(cell.measure, hasSeriesField ? pathKey(header.path) : '');
      const set = settings.series[key] ?? {};
      const at = column * cells.length + measure;
      const place = answer.places?.[column] ?? (family === 'points' ? column : at);
      const values = answer.cells.map((row) => row[at] ?? null);
      const format = cell.format ?? own.format;
      return {
        ...{ key, member, measure, measureLabel: heading, path: header.path, memberLabels: hasSeriesField ? header.labels : [] },
        label: !hasSeriesField ? heading : cells.length > 1 ? `${member}: ${heading}` : member,
        as: set.as ?? seriesKindOf(settings.kind),
        second: set.second ?? false,
        colour: set.colour ?? place % SERIES_COLOURS,
        dashed: set.dashed ?? false,
        hidden: set.hidden ?? false,
        ...{ format, values },
        states: statesOf(answer, at),
        trend: trendOf(family === 'axis' ? settings.trend : undefined, values, whole, format, locale),
        forecast: set.forecast === false ? null : forecastOf(answer, at, locale),
      };
    }),
  );
  const depths = [...new Set(answer.rows.items.map(({ path }) => path.length))].filter((depth) => depth > 0).sort((a, b) => a - b);
  return {
    ...{ kind: settings.kind, categories: withForecast(categories, answer, isTime), series, locale },
    notes: [...(settings.kind === 'pareto' ? ['Line: cumulative share'] : []), ...notesOf(series, answer)],
    shape: {
      ...{ members: categories.length, levels: side.fields.length, isTime, hasSeriesField },
      ...{ series: answer.columns.items.length, measures: cells.length, arrangement: settings.arrangement },
      hasNegative: series.some(({ values, hidden }) => !hidden && values.some((value) => value !== null && value < 0)),
    },
    along: listWords(depths.map((depth) => fieldPlace(dataset, side.fields[depth - 1]).label)),
    root: answer.root,
    totals: answer.totals,
  };
}

/** What trends and forecasts say, series by series. */
function notesOf(series: readonly Series[], { forecast }: ChartResponse): string[] {
  const said = series
    .filter(({ hidden }) => !hidden)
    .flatMap(({ label, trend, forecast: ahead }) =>
      [trend?.words, ahead?.words].flatMap((words) => (words ? [series.length > 1 ? `${label}: ${words}` : words] : [])),
    );
  return [...said, ...(forecast?.problem ? [forecast.problem] : [])];
}

/** Series that are drawn. */
export const drawnSeries = ({ series }: ChartFigure): Series[] => series.filter(({ hidden }) => !hidden);

/** Series that a legend names: of points the members that these are coloured by, named once and not for each measure. */
export function legendSeries({ kind, series, shape }: ChartFigure): Series[] {
  const known = series.filter(({ hidden }) => !hidden);
  const { family } = chartKindOf(kind);
  if (family === 'axis') return known;
  if (family !== 'points' || !shape.hasSeriesField) return [];
  return known.filter(({ measure }) => measure === 0).map((own) => ({ ...own, label: own.member }));
}

/** The values of one measure in all series that are drawn. */
export const valuesOfMeasure = (figure: ChartFigure, position: number): number[] =>
  drawnSeries(figure)
    .filter(({ measure }) => measure === position)
    .flatMap(({ values }) => values.filter((value) => value !== null));

/** The units of what is drawn, each once: "thousand euro, %". */
export const figureUnits = (figure: ChartFigure): string =>
  [...new Set(drawnSeries(figure).map(({ format }) => unitWords(format, figure.locale)))].filter((words) => words !== '').join(', ');

/** What one point says: "Net sales, Jan 2026: € 6.2 M". */
export function pointWords(figure: ChartFigure, series: Series, category: number): string {
  const { fullLabel: where } = figure.categories[category];
  const value = figureText(series.values[category], series.format, figure.locale);
  return `${[series.label, where].filter((words) => words !== '').join(', ')}: ${value}`;
}

/** Some series as a chart of their own. */
export interface Panel {
  label: string;
  figure: ChartFigure;
}

/** A chart for each member of the first series field. */
export function panelsOf(figure: ChartFigure): Panel[] {
  const labels = [...new Set(figure.series.map(({ memberLabels }) => memberLabels[0] ?? ''))];
  return labels.map((label) => {
    const series = figure.series
      .filter(({ memberLabels }) => (memberLabels[0] ?? '') === label)
      .map((own) => ({
        ...own,
        label: [...own.memberLabels.slice(1), ...(figure.shape.measures > 1 ? [own.measureLabel] : [])].join(': ') || own.measureLabel,
      }));
    return {
      label,
      figure: { ...figure, series: series.map((own) => ({ ...own, colour: own.memberLabels.length > 1 ? own.colour : own.measure })) },
    };
  });
}

/** Why the kind of a chart does not suit what it draws, and what would; null where it does. */
export const misfitOf = ({ kind, shape }: ChartFigure): ReturnType<ReturnType<typeof chartKindOf>['misfit']> =>
  chartKindOf(kind).misfit(shape);
