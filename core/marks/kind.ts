import type { Crosstab, Dataset, Mark, Measure } from '../model/index.ts';

/** What the words of a legend are made with. */
export interface LegendWording {
  dataset: Dataset;
  measure: Measure;
  locale: string;
}

/** What a mark is made for when it is added. */
export interface NewMark {
  dataset: Dataset;
  exhibit: Pick<Crosstab, 'side' | 'top'>;
}

/** What is drawn with figures: with its schema in the model, how it is calculated, and how it is drawn, this is all of it. */
export interface MarkKind<Own extends Mark> {
  kind: Own['kind'];
  /** The noun for it, as it is offered. */
  label: string;
  /** Fields and measures of the dataset that it reads. */
  names(own: Own): { fields: string[]; measures: string[] };
  /** The formula that it reads, where it has one of its own. */
  formula?(own: Own): string;
  /** What it says, for the legend under a table. */
  legend(own: Own, wording: LegendWording): string;
  /** A new one; null where the dataset has nothing for it. */
  create(made: NewMark): Own | null;
}
