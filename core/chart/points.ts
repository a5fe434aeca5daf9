import type { Path } from '../api/index.ts';
import { plainNumber } from '../format/index.ts';
import type { NumberFormat, Trend } from '../model/index.ts';
import { correlation } from '../statistics/index.ts';
import { scaleOf, trendThrough } from './ahead.ts';
import { type ChartFigure } from './figure.ts';
import type { Series } from './series.ts';

/** Pieces that a curve is drawn in. */
const STEPS = 40;

/** A member placed by two measures. */
export interface Point {
  category: number;
  x: number;
  y: number;
  /** Not negative; null where no measure says it. */
  size: number | null;
  shade: number | null;
}

/** The members in one member of the series field. */
interface PointSeries {
  label: string;
  path: Path;
  colour: number;
  /** Of the first of its measures that is judged, by category. */
  states: Series['states'];
  points: readonly Point[];
}

export interface PointsDrawing {
  series: readonly PointSeries[];
  /** What each measure is: place, place, size, colour. */
  measures: readonly { label: string; format: NumberFormat }[];
  /** How many members have no place, since a value is missing. */
  missing: number;
}

/** How closely the two measures that place the points go together: "Correlation 0.83"; empty where that says nothing. */
export function correlationWords(figure: ChartFigure): string {
  const { series } = pointsDrawing(figure);
  const related = correlation(series.flatMap(({ points }) => points));
  return related === null ? '' : `Correlation ${plainNumber(related, figure.locale)}`;
}

/** The curve through all points, with its equation and fit; null where nothing is asked, or can be said. */
export function pointsTrend(figure: ChartFigure, trend: Trend | undefined): { line: { x: number; y: number }[]; words: string } | null {
  const { series, measures } = pointsDrawing(figure);
  // In the units that are shown, so that the equation speaks of what the axes say.
  const [across, up] = [0, 1].map((position) => (measures[position] ? scaleOf(measures[position].format) : 1));
  const points = series.flatMap(({ points: own }) => own.map(({ x, y }) => ({ x: x * across, y: y * up })));
  const through = trend && trendThrough(trend, points, figure.locale);
  if (!through) return null;
  const xs = points.map(({ x }) => x);
  const [first, last] = [Math.min(...xs), Math.max(...xs)];
  const line = Array.from({ length: STEPS + 1 }, (_, step) => {
    const x = first + ((last - first) * step) / STEPS;
    return { x: x / across, y: through.at(x) / up };
  });
  return { line, words: through.words };
}

/** Members as points: the first measure along, the second up, a third as size and a fourth as colour. */
export function pointsDrawing({ series, categories, shape }: ChartFigure): PointsDrawing {
  const columns = Array.from({ length: shape.series }, (_, column) => series.slice(column * shape.measures, (column + 1) * shape.measures));
  let missing = 0;
  const drawn = columns.filter(([first]) => first && !first.hidden);
  return {
    measures: (columns[0] ?? []).map(({ measureLabel, format }) => ({ label: measureLabel, format })),
    series: drawn.map(([along, up, size, shade]) => ({
      label: along.member,
      path: along.path,
      colour: along.colour,
      states: [along, up, size, shade].find((own) => own?.states)?.states ?? null,
      points: categories.flatMap((_, category): Point[] => {
        const [x, y] = [along.values[category], up?.values[category]];
        if (x === null || y === null || y === undefined) {
          missing++;
          return [];
        }
        const value = size?.values[category] ?? null;
        return [{ category, x, y, size: value === null ? null : Math.max(0, value), shade: shade?.values[category] ?? null }];
      }),
    })),
    missing,
  };
}
