import { pointWords, type Series } from '@bold-compass/core/chart';
import { samePath } from '@bold-compass/core/table';
import type { ChosenCell } from '../report/url-state.ts';
import type { ChartTarget, DrawnWith } from './drawing.ts';

/** What the point of a series stands for. */
export function targetOf(
  { figure, measures }: Pick<DrawnWith, 'figure' | 'measures'>,
  series: Pick<Series, 'path' | 'measure'>,
  category: number,
  words: string,
): ChartTarget {
  const header = figure.categories[category]?.header ?? null;
  const cell = header && { side: header.path, top: series.path, measure: measures[series.measure] };
  return { words, cell, opens: header?.canOpen ?? false };
}

export const seriesTarget = (drawn: DrawnWith, series: Series, category: number): ChartTarget =>
  targetOf(drawn, series, category, pointWords(drawn.figure, series, category));

export const isSameCell = (a: ChosenCell | null, b: ChosenCell | null): boolean =>
  a !== null && b !== null && a.measure === b.measure && samePath(a.side, b.side) && samePath(a.top, b.top);
