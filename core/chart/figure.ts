import type { ChartResponse, Header, Path } from '../api/index.ts';
import { pathKey } from '../crosstab/index.ts';
import { figureText, unitWords } from '../format/index.ts';
import type { State } from '../indicators/index.ts';
import {
  fieldPlace,
  measureNamed,
  seriesName,
  SERIES_COLOURS,
  type Chart,
  type ChartKindName,
  type Dataset,
  type NumberFormat,
} from '../model/index.ts';
import { chartKindOf, type ChartShape } from './kinds.ts';
import { isThroughTime } from './proposal.ts';

/** A member along the axis. */
export interface Category {
  label: string;
  /** Its label with those of the members it is in. */
  fullLabel: string;
  /** The labels of the members it is in, below what the chart is drawn of. */
  groups: readonly string[];
  /** The member itself; null for what the chart adds, such as a total. */
  header: Header | null;
}

export type SeriesKind = 'column' | 'line' | 'area' | 'step';

/** One measure through the members along the axis, in one member of the series field. */
export interface Series {
  /** What settings know it by. */
  key: string;
  label: string;
  /** Position of its measure. */
  measure: number;
  measureLabel: string;
  /** The member of the series field; empty where there is none. */
  path: Path;
  /** The labels of that member, level by level. */
  memberLabels: readonly string[];
  as: SeriesKind;
  second: boolean;
  colour: number;
  dashed: boolean;
  hidden: boolean;
  format: NumberFormat;
  values: readonly (number | null)[];
  states: readonly (State | null)[] | null;
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
  /** The value of each measure over all that is drawn. */
  totals: readonly (number | null)[];
  locale: string;
}

/** The label of a member with those of what it is in: "Jan 2026", "Sweden, Nordic". */
const fullLabel = (labels: readonly string[], isTime: boolean): string => [...labels].reverse().join(isTime ? ' ' : ', ');

function categoriesOf({ rows, root }: ChartResponse, isTime: boolean, whole: string): Category[] {
  return rows.items.map((header) => {
    if (header.role === 'total') return { label: whole, fullLabel: whole, groups: [], header };
    const labels = header.labels.slice(root.path.length);
    return { label: labels.at(-1) ?? '', fullLabel: fullLabel(labels, isTime), groups: labels.slice(0, -1), header };
  });
}

/** The states of one measure in one column. */
function statesOf({ states }: ChartResponse, at: number): (State | null)[] | null {
  if (!states?.some((row) => row[at])) return null;
  return states.map((row) => row[at] ?? null);
}

const seriesKindOf = (kind: ChartKindName): SeriesKind => (kind === 'line' || kind === 'area' || kind === 'step' ? kind : 'column');

/** A chart over the figures of an answer. `dataset` has the measures as they are counted in the chart. Throws UnknownNameError. */
export function chartFigure(dataset: Dataset, chart: Chart, answer: ChartResponse, locale: string): ChartFigure {
  const { side, top, cells, chart: settings } = chart;
  const isTime = isThroughTime(dataset, { side });
  const hasSeriesField = top.fields.length > 0;
  const categories = categoriesOf(answer, isTime, 'All');
  const series = answer.columns.items.flatMap((header, column) =>
    cells.map((cell, measure): Series => {
      const own = measureNamed(dataset, cell.measure);
      const heading = cell.heading ?? own.label;
      const member = hasSeriesField ? header.labels.join(', ') : '';
      const key = seriesName(cell.measure, hasSeriesField ? pathKey(header.path) : '');
      const set = settings.series[key] ?? {};
      const at = column * cells.length + measure;
      const place = answer.places?.[column] ?? at;
      return {
        ...{ key, measure, measureLabel: heading, path: header.path, memberLabels: hasSeriesField ? header.labels : [] },
        label: !hasSeriesField ? heading : cells.length > 1 ? `${member}: ${heading}` : member,
        as: set.as ?? seriesKindOf(settings.kind),
        second: set.second ?? false,
        colour: set.colour ?? place % SERIES_COLOURS,
        dashed: set.dashed ?? false,
        hidden: set.hidden ?? false,
        format: cell.format ?? own.format,
        values: answer.cells.map((row) => row[at] ?? null),
        states: statesOf(answer, at),
      };
    }),
  );
  const last = side.fields.at(Math.max(0, (answer.rows.items[0]?.path.length ?? 1) - 1));
  return {
    ...{ kind: settings.kind, categories, series, locale },
    shape: {
      ...{ members: categories.length, levels: side.fields.length, isTime, hasSeriesField },
      ...{ series: answer.columns.items.length, measures: cells.length, arrangement: settings.arrangement },
      hasNegative: series.some(({ values, hidden }) => !hidden && values.some((value) => value !== null && value < 0)),
    },
    along: last ? fieldPlace(dataset, last).label : '',
    root: answer.root,
    totals: answer.totals,
  };
}

/** Series that are drawn. */
export const drawnSeries = ({ series }: ChartFigure): Series[] => series.filter(({ hidden }) => !hidden);

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
