import { indicatorWords, markKindOf, stateMeasure } from '../marks/index.ts';
import { findMeasure, type Crosstab, type Dataset, type Mark } from '../model/index.ts';

/** A line of the legend under a cross-tab. */
export interface LegendLine {
  /** What is drawn; null where it is the needle of an indicator. */
  mark: Mark | null;
  /** The measure that members stand in the order of their states by, where it is such a needle. */
  stateOrder: string | null;
  /** The measure that it is about, where the cells hold several. */
  about: string;
  words: string;
}

/** What the marks of a cross-tab say, in the order of its measures. */
export function crosstabLegend(dataset: Dataset, { cells }: Pick<Crosstab, 'cells'>, locale: string): LegendLine[] {
  return cells.flatMap((cell): LegendLine[] => {
    const { measure: name, heading, marks = [], indicator } = cell;
    const measure = findMeasure(dataset, name);
    if (!measure) return [];
    const about = cells.length > 1 ? (heading ?? measure.heading ?? measure.label) : '';
    const wording = { dataset, measure, locale };
    const needle = indicator
      ? [{ mark: null, stateOrder: stateMeasure(dataset, cell)?.name ?? null, about, words: indicatorWords(indicator, wording) }]
      : [];
    return [...needle, ...marks.map((mark) => ({ mark, stateOrder: null, about, words: markKindOf(mark).legend(mark, wording) }))];
  });
}
