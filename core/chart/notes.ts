import { pathKey, readPath } from '../crosstab/index.ts';
import type { PointNote } from '../model/index.ts';
import { pointWords, type ChartFigure } from './figure.ts';
import type { Category, Series } from './series.ts';

/** A note at what is drawn: the place of its series, and of its member along the axis. */
export interface NoteAt {
  series: number;
  category: number;
  text: string;
}

/** The notes whose points are drawn, in some series and members of a chart; `measures` are the names of its measures. */
export function notesAt(
  notes: readonly PointNote[],
  measures: readonly string[],
  series: readonly Series[],
  categories: readonly Category[],
): NoteAt[] {
  return notes.flatMap(({ side, top, measure, text }) => {
    const own = series.findIndex((one) => measures[one.measure] === measure && pathKey(one.path) === pathKey(readPath(top)));
    const category = categories.findIndex(({ header }) => header && pathKey(header.path) === pathKey(readPath(side)));
    return own >= 0 && category >= 0 && (series[own].values[category] ?? null) !== null ? [{ series: own, category, text }] : [];
  });
}

/** What notes say with what they stand at, for those who do not see them: "Net sales, Dec 2025: € 8.1 M. Trade fair." */
export const noteWords = (figure: ChartFigure, notes: readonly PointNote[], measures: readonly string[]): string[] =>
  notesAt(notes, measures, figure.series, figure.categories).map(
    ({ series, category, text }) => `${pointWords(figure, figure.series[series], category)}. ${text}`,
  );
