import { drawnSeries, type ChartFigure } from './figure.ts';
import type { Category, Series } from './series.ts';

/** A part of a whole. */
export interface Part {
  /** Its place among the members along the axis. */
  category: number;
  label: string;
  groups: readonly string[];
  value: number;
  /** Of the sum of all parts; null where that is zero. */
  share: number | null;
  colour: number;
}

export interface PartsDrawing {
  series: Series | null;
  parts: readonly Part[];
  whole: number;
}

/** Parts are coloured by their member where the chart says so; else parts of one group of the outermost level have one colour. */
function colourOf(categories: readonly Category[]): (index: number) => number {
  const groups = [...new Set(categories.flatMap(({ groups: [group] }) => group ?? []))];
  return (index) => categories[index].place ?? (groups.length > 0 ? groups.indexOf(categories[index].groups[0]) : index);
}

/** The members along the axis as parts of their sum, by the first series; members without a value are left out. */
export function partsDrawing(figure: ChartFigure): PartsDrawing {
  const [series = null] = drawnSeries(figure);
  const values = figure.categories.map((_, index) => series?.values[index] ?? null);
  const whole = values.reduce<number>((sum, value) => sum + (value ?? 0), 0);
  const colour = colourOf(figure.categories);
  const parts = values.flatMap((value, category): Part[] => {
    if (value === null || value === 0) return [];
    const { label, groups } = figure.categories[category];
    return [{ category, label, groups, value, share: whole === 0 ? null : value / whole, colour: colour(category) }];
  });
  return { series, parts, whole };
}
