import { axisDrawing } from './axis-series.ts';
import { drawnSeries, type ChartFigure } from './figure.ts';
import { chartKindOf, isLying } from './kinds.ts';
import { partsDrawing } from './parts.ts';
import { pointsDrawing } from './points.ts';

/**
 * A chart as small as a thumbnail: shapes without figures. Of columns, bars and lines `series` are heights from 0 to 1, and `zero`
 * is where zero lies among them; of dots each is a place, along and up; of slices there is one, of shares; of a grid each is a row.
 */
export interface ChartSketch {
  shape: 'columns' | 'bars' | 'lines' | 'dots' | 'slices' | 'grid';
  series: (number | null)[][];
  zero: number;
}

/** More than these cannot be told apart on so little room. */
const [MOST_SERIES, MOST_PLACES, MOST_DOTS] = [6, 48, 120];

const rounded = (value: number): number => Math.round(value * 1_000) / 1_000;

/** Some of many, evenly. */
function sampled<Own>(own: readonly Own[], most: number): Own[] {
  if (own.length <= most) return [...own];
  return Array.from({ length: most }, (_, index) => own[Math.round((index * (own.length - 1)) / (most - 1))]);
}

/** Values as shares of the way from the smallest to the largest; the scale holds zero where it is asked to. */
function scaled(rows: readonly (readonly (number | null)[])[], fromZero: boolean): Pick<ChartSketch, 'series' | 'zero'> {
  const known = rows.flatMap((row) => row.filter((value) => value !== null));
  const ends = fromZero ? [0, ...known] : known;
  const [least, most] = ends.reduce(([low, high], value) => [Math.min(low, value), Math.max(high, value)], [Infinity, -Infinity]);
  const span = most > least ? most - least : 1;
  const share = (value: number): number => rounded((value - least) / span);
  return {
    series: rows.map((row) => row.map((value) => (value === null ? null : share(value)))),
    zero: known.length === 0 ? 0 : Math.min(1, Math.max(0, share(0))),
  };
}

/** A chart drawn small. */
export function chartSketch(figure: ChartFigure): ChartSketch {
  const { family, fromZero, slices } = chartKindOf(figure.kind);
  if (family === 'points') {
    const dots = sampled(
      pointsDrawing(figure).series.flatMap(({ points }) => points),
      MOST_DOTS,
    );
    const [x, y] = [dots.map((dot) => dot.x), dots.map((dot) => dot.y)].map((values) => scaled([values], false).series[0]);
    return { shape: 'dots', series: dots.map((_, index) => [x[index], y[index]]), zero: 0 };
  }
  if (slices) {
    const shares = partsDrawing(figure).parts.map(({ share }) => rounded(share ?? 0));
    return { shape: 'slices', series: [shares.slice(0, MOST_PLACES)], zero: 0 };
  }
  if (family === 'grid') {
    const rows = drawnSeries(figure).slice(0, MOST_PLACES);
    const { series } = scaled(
      rows.map(({ values }) => values),
      false,
    );
    return { shape: 'grid', series: sampled(series, 24), zero: 0 };
  }
  const { series } = family === 'axis' ? axisDrawing(figure) : { series: drawnSeries(figure).slice(0, 1) };
  const isLines = family === 'axis' && series.length > 0 && series.every(({ as }) => as !== 'column');
  const shown = series.slice(0, MOST_SERIES).filter(({ second }) => !second);
  const rows = shown.map(({ values }) => sampled(values, MOST_PLACES));
  const shape = isLines ? 'lines' : isLying(figure) || family !== 'axis' ? 'bars' : 'columns';
  return { shape, ...scaled(rows, fromZero || !isLines) };
}
