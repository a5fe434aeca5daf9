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
export function waterfallOf(figure: ChartFigure): AxisDrawing {
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
export function paretoOf(figure: ChartFigure): AxisDrawing {
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
function sharesOf(series: readonly Series[]): AxisSeries[] {
  const sums = series[0]?.values.map((_, index) => series.reduce((sum, { values }) => sum + (values[index] ?? 0), 0)) ?? [];
  return series.map((own) => ({
    ...own,
    format: { ...PERCENT, decimals: 1 },
    values: own.values.map((value, index) => (value === null || sums[index] === 0 ? null : value / sums[index])),
  }));
}

/** What a chart along an axis draws. */
export function axisDrawing(figure: ChartFigure): AxisDrawing {
  if (figure.kind === 'waterfall') return waterfallOf(figure);
  if (figure.kind === 'pareto') return paretoOf(figure);
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
