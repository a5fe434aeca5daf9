import { listWords, unitWords } from '../format/index.ts';
import { drawnSeries, type ChartFigure } from './figure.ts';
import { chartKindOf } from './kinds.ts';
import { plainCategory, type Category, type Series } from './series.ts';

/** What is drawn along an axis: series, or bars that float between two values. */
export interface AxisDrawing {
  categories: readonly Category[];
  series: readonly AxisSeries[];
}

export interface AxisSeries extends Series {
  /** Where each bar begins and ends, where it does not begin at zero. */
  spans?: readonly (readonly [number, number] | null)[];
  /** What bars are, where not all of a series are the same. */
  roles?: readonly ('rise' | 'fall' | 'total')[];
  /** Whether it says how much of the whole is reached, from 0 to 1. */
  isShare?: boolean;
}

const PERCENT = { kind: 'percent', decimals: 0, unit: 'one' } as const;

/** What rounding of binary fractions leaves. */
const ROUNDING = 1e-9;

/**
 * Steps from zero to the total: each member begins where the one before it ended. What the members that are drawn do not make
 * up is a step of its own, so that the last bar is the total of all records.
 */
function waterfallOf(figure: ChartFigure): AxisDrawing {
  const [series] = drawnSeries(figure);
  if (!series) return { categories: figure.categories, series: [] };
  const spans: [number, number][] = [];
  const roles: ('rise' | 'fall' | 'total')[] = [];
  let reached = 0;
  const step = (value: number): void => {
    spans.push([reached, reached + value]);
    roles.push(value < 0 ? 'fall' : 'rise');
    reached += value;
  };
  const values: (number | null)[] = [...series.values];
  const categories = [...figure.categories];
  for (const value of series.values) step(value ?? 0);
  const total = (figure.shape.hasSeriesField ? null : figure.totals[series.measure]) ?? reached;
  const missing = total - reached;
  if (Math.abs(missing) > ROUNDING * Math.max(Math.abs(total), Math.abs(reached), 1)) {
    step(missing);
    values.push(missing);
    categories.push(plainCategory('Difference to total'));
  }
  spans.push([0, total]);
  roles.push('total');
  values.push(total);
  categories.push(plainCategory(figure.root.labels.at(-1) ?? 'Total'));
  return { categories, series: [{ ...series, values, spans, roles, as: 'column' }] };
}

/** Members from the largest on, with the share of the whole that they and those before them reach. */
function paretoOf(figure: ChartFigure): AxisDrawing {
  const [series] = drawnSeries(figure);
  if (!series) return { categories: figure.categories, series: [] };
  /** What stands for all other members comes last, however large it is. */
  const isOthers = (index: number): boolean => figure.categories[index].header?.others !== undefined;
  const order = figure.categories
    .map((_, index) => index)
    .filter((index) => series.values[index] !== null)
    .sort((a, b) => Number(isOthers(a)) - Number(isOthers(b)) || series.values[b]! - series.values[a]! || a - b);
  const values = order.map((index) => series.values[index]!);
  const whole = values.reduce((sum, value) => sum + value, 0);
  let reached = 0;
  const shares = values.map((value) => (whole === 0 ? null : (reached += value) / whole));
  const states = series.states && order.map((index) => series.states![index]);
  return {
    categories: order.map((index) => figure.categories[index]),
    series: [
      { ...series, values, states, as: 'column' },
      {
        ...series,
        key: 'share',
        label: 'Cumulative share',
        values: shares,
        states: null,
        as: 'line',
        second: true,
        isShare: true,
        format: PERCENT,
        colour: 1,
      },
    ],
  };
}

/** The share of each series in the sum of all at its member, where they are drawn as parts of each whole. */
export function sharesOf(series: readonly Series[]): AxisSeries[] {
  const sums = series[0]?.values.map((_, index) => series.reduce((sum, { values }) => sum + (values[index] ?? 0), 0)) ?? [];
  return series.map((own) => ({
    ...own,
    format: { ...PERCENT, decimals: 1 },
    values: own.values.map((value, index) => (value === null || sums[index] === 0 ? null : value / sums[index])),
  }));
}

const HALF = 0.5;

/**
 * Bars to both sides of zero, in the order of the series. Where any value is below zero each stands on its side, stacked outwards;
 * else they are shares of their member, with the middle one of an odd number of series half on either side: Heiberger and Robbins,
 * "Design of Diverging Stacked Bar Charts for Likert Scales and Other Applications", Journal of Statistical Software 57 (2014).
 */
function divergingOf(figure: ChartFigure): AxisDrawing {
  const own = drawnSeries(figure);
  if (figure.shape.hasNegative) {
    const spans = own.map((): ([number, number] | null)[] => []);
    figure.categories.forEach((_, index) => {
      const reached = { below: 0, above: 0 };
      own.forEach(({ values }, at) => {
        const value = values[index];
        if (value === null) return void spans[at].push(null);
        const side = value < 0 ? 'below' : 'above';
        spans[at].push([reached[side], reached[side] + value]);
        reached[side] += value;
      });
    });
    return { categories: figure.categories, series: own.map((one, at) => ({ ...one, spans: spans[at] })) };
  }
  const shares = sharesOf(own);
  const middle = (shares.length - 1) * HALF;
  const starts = figure.categories.map((_, index) =>
    shares.reduce((sum, { values }, at) => sum - (at < middle ? 1 : at === middle ? HALF : 0) * (values[index] ?? 0), 0),
  );
  return {
    categories: figure.categories,
    series: shares.map((one) => ({
      ...one,
      spans: one.values.map((value, index): [number, number] | null => {
        if (value === null) return null;
        const start = starts[index];
        starts[index] += value;
        return [start, starts[index]];
      }),
    })),
  };
}

/** Bars from the one of two measures to the other; of three the first is a point, and the others are its ends. */
function rangesOf(figure: ChartFigure): AxisDrawing {
  const own = drawnSeries(figure);
  const ends = own.slice(-2);
  const [first, second] = ends;
  if (!second) return { categories: figure.categories, series: own };
  const spans = first.values.map((value, index): [number, number] | null => {
    const other = second.values[index];
    return value === null || other === null ? null : [Math.min(value, other), Math.max(value, other)];
  });
  const label = `${first.label} to ${second.label}`;
  const range: AxisSeries = { ...first, label, values: spans.map((span) => span?.[1] ?? null), spans, states: null, as: 'column' };
  return { categories: figure.categories, series: own.length > 2 ? [own[0], range] : [range] };
}

const DRAWN_AS: Partial<Record<ChartFigure['kind'], (figure: ChartFigure) => AxisDrawing>> = {
  waterfall: waterfallOf,
  pareto: paretoOf,
  diverging: divergingOf,
  range: rangesOf,
};

/** What a chart along an axis draws. */
export function axisDrawing(figure: ChartFigure): AxisDrawing {
  const drawnAs = DRAWN_AS[figure.kind];
  if (drawnAs) return drawnAs(figure);
  const series = drawnSeries(figure);
  return { categories: figure.categories, series: figure.shape.arrangement === 'share' ? sharesOf(series) : series };
}

/** What an axis is called where there are two: its measures, with their unit. */
export function axisWords(series: readonly AxisSeries[], locale: string): string {
  const [first] = series;
  if (!first) return '';
  const unit = first.isShare ? '' : unitWords(first.format, locale);
  const names = [...new Set(series.map(({ measureLabel, label, isShare }) => (isShare ? label : measureLabel)))];
  return `${listWords(names)}${unit === '' ? '' : ` (${unit})`}`;
}

/** The units of what is drawn, each once: "thousand euro, %". Of parts of a whole these are percents, whatever the parts are of. */
export function figureUnits(figure: ChartFigure): string {
  const { series } = chartKindOf(figure.kind).family === 'axis' ? axisDrawing(figure) : { series: drawnSeries(figure) };
  return [...new Set(series.map(({ format }) => unitWords(format, figure.locale)))].filter((words) => words !== '').join(', ');
}
