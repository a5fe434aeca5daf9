import type { Path } from '../api/index.ts';
import type { NumberFormat } from '../model/index.ts';
import { type ChartFigure } from './figure.ts';

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
export interface PointSeries {
  label: string;
  path: Path;
  colour: number;
  points: readonly Point[];
}

export interface PointsDrawing {
  series: readonly PointSeries[];
  /** What each measure is: place, place, size, colour. */
  measures: readonly { label: string; format: NumberFormat }[];
  /** How many members have no place, since a value is missing. */
  missing: number;
}

/** Members as points: the first measure along, the second up, a third as size and a fourth as colour. */
export function pointsDrawing({ series, categories, shape }: ChartFigure): PointsDrawing {
  const columns = Array.from({ length: shape.series }, (_, column) => series.slice(column * shape.measures, (column + 1) * shape.measures));
  let missing = 0;
  const drawn = columns.filter(([first]) => first && !first.hidden);
  return {
    measures: (columns[0] ?? []).map(({ measureLabel, format }) => ({ label: measureLabel, format })),
    series: drawn.map(([along, up, size, shade]) => ({
      label: shape.hasSeriesField ? along.label.split(': ')[0] : '',
      path: along.path,
      colour: shape.hasSeriesField ? Math.floor(along.colour / Math.max(1, shape.measures)) : 0,
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
