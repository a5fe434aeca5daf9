import { drawnSeries, type ChartFigure } from './figure.ts';

/** How a member moved from one place to the next: its value in each of them. */
export interface Slope {
  /** Its place among the members along the axis. */
  category: number;
  label: string;
  values: readonly (number | null)[];
  /** Which way it went from its first value to its last; null where it has no two. */
  went: 'up' | 'down' | 'level' | null;
}

/** Members as lines between the series, which are the places: two periods, or two measures. */
export function slopesOf(figure: ChartFigure): { places: string[]; slopes: Slope[] } {
  const series = drawnSeries(figure);
  const slopes = figure.categories.flatMap(({ fullLabel }, category): Slope[] => {
    const values = series.map((own) => own.values[category] ?? null);
    const known = values.filter((value) => value !== null);
    if (known.length === 0) return [];
    const change = known[known.length - 1] - known[0];
    const went = known.length < 2 ? null : change > 0 ? 'up' : change < 0 ? 'down' : 'level';
    return [{ category, label: fullLabel, values, went }];
  });
  return { places: series.map(({ label }) => label), slopes };
}
