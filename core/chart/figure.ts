import type { ChartResponse, CommonScale, Header, Path } from '../api/index.ts';
import { parseIsoDate, periodRange } from '../calendar/index.ts';
import { pathKey } from '../crosstab/index.ts';
import { countWords, figureText, listWords, unitWords } from '../format/index.ts';
import type { State } from '../indicators/index.ts';
import {
  fieldPlace,
  measureNamed,
  seriesName,
  SERIES_COLOURS,
  type Chart,
  type ChartKindName,
  type Dataset,
  type MapSettings,
  type NumberFormat,
} from '../model/index.ts';
import { forecastOf, trendOf, withForecast } from './ahead.ts';
import { chartKindOf, type ChartShape } from './kinds.ts';
import { isThroughTime } from './proposal.ts';
import type { Category, Series } from './series.ts';

/** A member that a chart shows alone, one after the other. */
export interface ChartPeriod {
  member: string | null;
  label: string;
  /** Whether it is not over: what is drawn is only what there is to date. */
  isPartial: boolean;
}

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
  /** The members that it goes through; null where all that there is is drawn at once. */
  periods: readonly ChartPeriod[] | null;
  /** The one of them that it shows; null where it shows all. */
  period: ChartPeriod | null;
  /** The series of all charts that have their scales in common, and which of them it is; null where it stands alone. */
  among: { series: readonly (readonly Series[])[]; at: number } | null;
  /** Between which values it lies in all sections, where these have their scales in common; null where each has its own. */
  beyond: CommonScale | null;
  /** The value of each measure over all that is drawn. */
  totals: readonly (number | null)[];
  /** What is to be said of trends and forecasts. */
  notes: readonly string[];
  locale: string;
}

/** The label of a member with those of what it is in: "Jan 2026", "Sweden, Nordic". */
const fullLabel = (labels: readonly string[], isTime: boolean): string => [...labels].reverse().join(isTime ? ' ' : ', ');

/** Whether a member is a period that goes on after a day. */
function isUnfinished(dataset: Dataset, fields: readonly string[], path: Path, dataTo: number): boolean {
  const member = path.at(-1);
  if (member == null) return false;
  const place = fieldPlace(dataset, fields[path.length - 1]);
  if (place.kind !== 'period') return false;
  const range = periodRange(place.level.period, member, place.dimension.yearStart);
  return range !== undefined && range.first <= dataTo && range.last > dataTo;
}

function categoriesOf(
  { rows, root, memberPlaces, cut }: ChartResponse,
  isTime: boolean,
  isUnfinishedAt: (path: Path) => boolean,
): Category[] {
  return rows.items.map((header, index) => {
    if (header.role === 'total')
      return { label: 'All', name: 'All', fullLabel: 'All', groups: [], isPartial: false, isForecast: false, header };
    const labels = header.labels.slice(root.path.length);
    const unfinished = isUnfinishedAt(header.path);
    const words = unfinished ? ' to date' : cut?.[index] ? ' in part' : '';
    const full = fullLabel(labels, isTime);
    return {
      ...{ label: labels.at(-1) ?? '', name: full, fullLabel: `${full}${words}`, groups: labels.slice(0, -1) },
      ...{ isPartial: words !== '', isForecast: false, header, ...(memberPlaces ? { place: memberPlaces[index] } : {}) },
    };
  });
}

/** The states of one measure in one column. */
function statesOf({ states }: ChartResponse, at: number): (State | null)[] | null {
  if (!states?.some((row) => row[at])) return null;
  return states.map((row) => row[at] ?? null);
}

/** Whether the finest level along an axis is the day. */
function isByDays(dataset: Dataset, fields: readonly string[]): boolean {
  const place = fields.length > 0 ? fieldPlace(dataset, fields[fields.length - 1]) : null;
  return place?.kind === 'period' && place.level.period === 'day';
}

/** The locale of a chart's words, and how far its data goes. */
interface ChartWords {
  locale: string;
  /** The last day that there is data for, as an ISO 8601 date. */
  dataTo: string;
}

/** A chart over the figures of an answer. `dataset` has the measures as they are counted in the chart. Throws UnknownNameError. */
export function chartFigure(dataset: Dataset, chart: Chart, answer: ChartResponse, { locale, dataTo }: ChartWords): ChartFigure {
  const { side, top, cells, chart: settings } = chart;
  const isTime = isThroughTime(dataset, { side });
  /** Levels of the series whose members are shown one after the other. */
  const gone = settings.through && top.fields.length > 0 ? 1 : 0;
  const hasSeriesField = top.fields.length > gone;
  const last = parseIsoDate(dataTo) ?? Infinity;
  const categories = categoriesOf(answer, isTime, (path) => isUnfinished(dataset, side.fields, path, last));
  const kind = chartKindOf(settings.kind);
  const { family, inOneLine } = kind;
  /** Bars that do not begin at zero have no line through their ends. */
  const goesOn = family === 'axis' && !inOneLine;
  /** Values of periods that are over: what there is of one that is not says nothing of the whole. */
  const whole = categories.map(({ isPartial }) => !isPartial);
  const headers = answer.columns.items;
  /** Members that all series are in are not said with each. */
  const common = headers[0]?.labels.findIndex((label, level) => headers.some(({ labels }) => labels[level] !== label)) ?? 0;
  const isTimeSeries = isThroughTime(dataset, { side: { ...top, fields: top.fields.slice(gone) } });
  const seriesLabel = (labels: readonly string[]): string =>
    fullLabel(labels.slice(gone || (common < 0 ? -1 : Math.min(common, labels.length - 1))), isTimeSeries);
  const isPartialSeries = (path: Path): boolean => path.length > gone && isUnfinished(dataset, top.fields, path, last);
  /** What is shown one after the other has the same colours each time. */
  const members = new Map<string, number>();
  for (const { path } of headers) {
    const name = pathKey(path.slice(gone));
    if (!members.has(name)) members.set(name, members.size);
  }
  const formats = cells.map((cell) => cell.format ?? measureNamed(dataset, cell.measure).format);
  /** Euros and percents have no scale in common: what is not in the unit of the first measure stands on the second axis. */
  const hasOwnAxes = settings.arrangement === 'grouped' && kind.timeAxis && family === 'axis';
  const isOfOtherUnit = (format: NumberFormat): boolean => hasOwnAxes && unitKey(format) !== unitKey(formats[0]);
  const series = headers.flatMap((header, column) =>
    cells.map((cell, measure): Series => {
      const own = measureNamed(dataset, cell.measure);
      const heading = cell.heading ?? own.label;
      const member = hasSeriesField ? `${seriesLabel(header.labels)}${isPartialSeries(header.path) ? ' to date' : ''}` : '';
      const key = seriesName(cell.measure, hasSeriesField ? pathKey(header.path.slice(gone)) : '');
      const set = settings.series[key] ?? {};
      const at = column * cells.length + measure;
      const order = members.get(pathKey(header.path.slice(gone)))!;
      const place = answer.places?.[column] ?? (family === 'points' ? order : order * cells.length + measure);
      const values = answer.cells.map((row) => row[at] ?? null);
      const format = cell.format ?? own.format;
      return {
        ...{ key, member, measure, measureLabel: heading, path: header.path, memberLabels: top.fields.length > 0 ? header.labels : [] },
        label: member === '' ? heading : cells.length > 1 ? `${member}: ${heading}` : member,
        as: set.as ?? kind.drawnAs(cells.length),
        second: set.second ?? isOfOtherUnit(format),
        colour: set.colour ?? place % SERIES_COLOURS,
        dashed: set.dashed ?? false,
        hidden: set.hidden ?? false,
        ...{ format, values, isPartial: isPartialSeries(header.path) },
        states: statesOf(answer, at),
        trend: trendOf(goesOn ? settings.trend : undefined, values, whole, format, locale),
        forecast: set.forecast === false || !goesOn ? null : forecastOf(answer, at, locale),
      };
    }),
  );
  const isStackedArea = kind.drawnAs(cells.length) === 'area' && settings.arrangement !== 'grouped' && series.length > 1;
  const depths = [...new Set(answer.rows.items.map(({ path }) => path.length))].filter((depth) => depth > 0).sort((a, b) => a - b);
  return {
    ...{ kind: settings.kind, categories: goesOn ? withForecast(categories, answer, isTime) : categories, series, locale },
    notes: [
      ...partialNote(categories, series, family === 'axis' && !isStackedArea ? 'Paler or dashed' : 'Not over yet'),
      ...kind.says(series),
      ...notesOf(series, answer, locale),
      ...(family === 'axis' ? mixedUnits(series, locale) : []),
    ],
    shape: {
      ...{ members: categories.length, levels: side.fields.length, isTime, byDays: isByDays(dataset, side.fields), hasSeriesField },
      ...{ series: headers.length, measures: cells.length, arrangement: settings.arrangement, byPoints: settings.map.points },
      hasNegative: series.some(({ values, hidden }) => !hidden && values.some((value) => value !== null && value < 0)),
    },
    along: listWords(depths.map((depth) => fieldPlace(dataset, side.fields[depth - 1]).label)),
    root: answer.root,
    periods: gone === 0 ? null : periodsOf(headers, (path) => isUnfinished(dataset, top.fields, path, last)),
    period: null,
    among: null,
    beyond: null,
    totals: answer.totals,
  };
}

/** What points and bars of ranges are. */
/** What values have in common that one scale can show. */
const unitKey = ({ kind, currency }: NumberFormat): string => `${kind} ${currency ?? ''}`;

/** Which units stand on one axis that have no scale in common; empty where each axis has one. */
function mixedUnits(series: readonly Series[], locale: string): string[] {
  return [false, true].flatMap((second) => {
    const own = drawnSeries({ series }).filter((one) => one.second === second);
    const units = new Map(own.map(({ format, measureLabel }) => [unitKey(format), { format, measureLabel }]));
    const named = [...units.values()].map(
      ({ format, measureLabel }) => `${measureLabel} (${unitWords(format, locale) || 'plain numbers'})`,
    );
    return named.length > 1 ? [`One axis has several units: ${listWords(named)}`] : [];
  });
}

/** The members of the outermost level, each once, in their order. */
function periodsOf(headers: readonly Header[], isPartial: (path: Path) => boolean): ChartPeriod[] {
  const periods = new Map<string | null, ChartPeriod>();
  for (const { path, labels } of headers) {
    const [member = null] = path;
    if (!periods.has(member)) periods.set(member, { member, label: labels[0] ?? '', isPartial: isPartial([member]) });
  }
  return [...periods.values()];
}

/** Which periods are only in part what they will be; what is drawn of them is paler, or dashed. */
function partialNote(categories: readonly Category[], series: readonly Series[], words: string): string[] {
  const periods = [...categories.filter(({ isPartial }) => isPartial).map(({ fullLabel }) => fullLabel)];
  const members = drawnSeries({ series }).flatMap(({ isPartial, member }) => (isPartial ? [member] : []));
  const named = [...new Set([...periods, ...members])];
  return named.length > 0 && named.length <= MOST_NAMED ? [`${words}: ${listWords(named)}`] : [];
}
const MOST_NAMED = 4;

const ZEROS = { one: 'point', many: 'points' };

/** What trends and forecasts say, series by series, and which points are none of records. */
function notesOf(series: readonly Series[], { forecast, zeros = 0 }: ChartResponse, locale: string): string[] {
  const said = series
    .filter(({ hidden }) => !hidden)
    .flatMap(({ label, trend, forecast: ahead }) =>
      [trend?.words, ahead?.words].flatMap((words) => (words ? [series.length > 1 ? `${label}: ${words}` : words] : [])),
    );
  const empty = zeros > 0 ? [`${countWords(zeros, ZEROS, locale)} without records, drawn as zero`] : [];
  return [...said, ...(forecast?.problem ? [forecast.problem] : []), ...empty];
}

/** Series that are drawn. */
export const drawnSeries = ({ series }: Pick<ChartFigure, 'series'>): Series[] => series.filter(({ hidden }) => !hidden);

/** Series that a legend names: of points, and of parts on a map, the members that these are coloured by, once and not for each measure. */
export function legendSeries({ kind, series, shape }: ChartFigure, map: Pick<MapSettings, 'points' | 'marks'>): Series[] {
  const known = series.filter(({ hidden }) => !hidden);
  const { family, legend } = chartKindOf(kind);
  if (family === 'axis') return legend ? known : [];
  const hasMarks = family === 'places' && !map.points && map.marks !== 'rings';
  if (hasMarks && !shape.hasSeriesField) return known.filter(({ measure }) => measure > 0);
  const isByMember = family === 'points' || hasMarks || (family === 'places' && map.points);
  if (!isByMember || !shape.hasSeriesField) return [];
  return known.filter(({ measure }) => measure === 0).map((own) => ({ ...own, label: own.member }));
}

/** The values of one measure in all series that are drawn, and the ends of those of charts that have their scales in common with it. */
export function valuesOfMeasure({ series, among, beyond }: ChartFigure, position: number): number[] {
  const values = (among?.series.flat() ?? series)
    .filter(({ measure, hidden }) => measure === position && !hidden)
    .flatMap((own) => own.values.filter((value) => value !== null));
  const elsewhere = beyond?.measures[position];
  return elsewhere ? [...values, elsewhere.low, elsewhere.high] : values;
}

/** The period that a chart shows alone: "Mar 2026", "Q4 2026 to date"; empty where it shows none alone. */
export const periodWords = ({ period }: Pick<ChartFigure, 'period'>): string =>
  period ? `${period.label}${period.isPartial ? ' to date' : ''}` : '';

/** What one point says: "Net sales, Jan 2026: € 6.2 M". */
export function pointWords(figure: ChartFigure, series: Series, category: number): string {
  const { fullLabel: where } = figure.categories[category];
  const value = figureText(series.values[category], series.format, figure.locale);
  return `${[series.label, where, periodWords(figure)].filter((words) => words !== '').join(', ')}: ${value}`;
}

/** Why the kind of a chart does not suit what it draws, and what would; null where it does. */
export const misfitOf = ({ kind, shape }: ChartFigure): ReturnType<ReturnType<typeof chartKindOf>['misfit']> =>
  chartKindOf(kind).misfit(shape);
