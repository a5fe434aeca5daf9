import { SERIES_COLOURS } from '../model/index.ts';
import { sharesOf } from './axis-series.ts';
import { drawnSeries, type ChartFigure, type ChartPeriod } from './figure.ts';
import { chartKindOf } from './kinds.ts';
import { scaleEnds, type Ends } from './scale.ts';
import { beginsAtZero, type Series } from './series.ts';

/** Some series as a chart of their own. */
export interface Panel {
  label: string;
  figure: ChartFigure;
}

/** Whether there are more series than colours: each series is then drawn as a small multiple. */
export const isPastColours = ({ kind, series, shape }: Pick<ChartFigure, 'kind' | 'series' | 'shape'>): boolean =>
  chartKindOf(kind).family === 'axis' &&
  !chartKindOf(kind).inOneLine &&
  shape.hasSeriesField &&
  new Set(series.map(({ memberLabels }) => memberLabels[0] ?? '')).size > SERIES_COLOURS;

/** What parts of each whole are drawn as where each has a chart of its own: their share of the whole that all of them make. */
function asParts(figure: ChartFigure): ChartFigure {
  const { shape, series } = figure;
  const isEachAlone = series.every(({ memberLabels }) => memberLabels.length < 2);
  if (shape.arrangement !== 'share' || !isEachAlone) return figure;
  return { ...figure, series: sharesOf(series), shape: { ...shape, arrangement: 'grouped' } };
}

/** A chart for each member of the first series field. */
export function panelsOf(whole: ChartFigure): Panel[] {
  const figure = asParts(whole);
  const labels = [...new Set(figure.series.map(({ memberLabels }) => memberLabels[0] ?? ''))];
  const parts = labels.map((label) =>
    figure.series
      .filter(({ memberLabels }) => (memberLabels[0] ?? '') === label)
      .map((own) => ({
        ...own,
        label: [...own.memberLabels.slice(1), ...(figure.shape.measures > 1 ? [own.measureLabel] : [])].join(': ') || own.measureLabel,
        colour: own.memberLabels.length > 1 ? own.colour : own.measure,
      })),
  );
  return labels.map((label, at) => ({ label, figure: { ...figure, series: parts[at], among: { series: parts, at } } }));
}

/**
 * The chart of each period that a chart goes through. All have the same series in the same order, without values where a period
 * has no such member, so that each keeps its colour, and what is drawn can move from one period to the next.
 */
export function chartsOfPeriods(figure: ChartFigure): ChartFigure[] {
  const { periods, shape } = figure;
  if (!periods) return [];
  const first = new Map<string, Series>();
  for (const own of figure.series) if (!first.has(own.key)) first.set(own.key, own);
  const empty = figure.categories.map(() => null);
  const charts = periods.map(({ member }) => {
    const known = new Map(figure.series.filter(({ path }) => (path[0] ?? null) === member).map((own) => [own.key, own]));
    return [...first.values()].map((one): Series => {
      const { path, memberLabels } = one;
      const own = known.get(one.key) ?? { ...one, values: empty, states: null, trend: null, path: [member, ...path.slice(1)] };
      return { ...own, memberLabels: memberLabels.slice(1) };
    });
  });
  return periods.map((period, at) => ({
    ...figure,
    series: charts[at],
    period,
    among: { series: charts, at },
    shape: { ...shape, series: charts[at].length / Math.max(1, shape.measures) },
  }));
}

/** The period that is shown at first: the last one that is over says more than one that has just begun. */
export const firstShown = (periods: readonly ChartPeriod[]): number =>
  Math.max(
    0,
    periods.findLastIndex(({ isPartial }) => !isPartial),
  );

/** The largest and smallest values of some series along an axis: of their sums where they are stacked. */
function extentOf(series: readonly Series[], isStacked: boolean): number[] {
  const shown = series.filter(({ hidden }) => !hidden);
  if (!isStacked) return shown.flatMap(({ values }) => values.filter((value) => value !== null));
  const sums = shown[0]?.values.map((_, index) => shown.reduce((sum, { values }) => sum + (values[index] ?? 0), 0)) ?? [];
  return [...sums, 0];
}

/**
 * The ends of the scale of values that several charts have in common, on the first or the second axis; null where a chart stands
 * alone, or where its kind works values out of its members that only that chart has.
 */
export function commonEnds({ among, beyond, series, kind, shape }: ChartFigure, second: boolean): Ends | null {
  if ((!among && !beyond) || shape.arrangement === 'share' || chartKindOf(kind).calculates) return null;
  const drawn = among?.series ?? [series];
  const isStacked = shape.arrangement === 'stacked';
  const values = drawn.flatMap((own) =>
    extentOf(
      own.filter((one) => one.second === second),
      isStacked,
    ),
  );
  const onAxis = new Set(series.filter((one) => one.second === second).map(({ measure }) => measure));
  const elsewhere = isStacked ? [beyond?.sums] : [...onAxis].map((measure) => beyond?.measures[measure]);
  values.push(...elsewhere.flatMap((ends) => (ends ? [ends.low, ends.high] : [])));
  return scaleEnds(values, chartKindOf(kind).fromZero || drawnSeries({ series: drawn.flat() }).some(beginsAtZero));
}
