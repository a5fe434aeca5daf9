import { markKindOf } from '../marks/index.ts';
import { findMeasure, type Crosstab, type Dataset, type Mark } from '../model/index.ts';

/** A line of the legend under a cross-tab. */
export interface LegendLine {
  mark: Mark;
  /** The measure that it is about, where the cells hold several. */
  about: string;
  words: string;
}

/** What the marks of a cross-tab say, in the order of its measures. */
export function crosstabLegend(dataset: Dataset, { cells }: Pick<Crosstab, 'cells'>, locale: string): LegendLine[] {
  return cells.flatMap(({ measure: name, heading, marks = [] }) => {
    const measure = findMeasure(dataset, name);
    if (!measure) return [];
    const about = cells.length > 1 ? (heading ?? measure.heading ?? measure.label) : '';
    return marks.map((mark) => ({ mark, about, words: markKindOf(mark).legend(mark, { dataset, measure, locale }) }));
  });
}
