import type { Asked } from '@bold-compass/core/answers';
import type { Watched } from '@bold-compass/core/api';
import type { Store } from '@bold-compass/core/engine';
import type { Crosstab, DataExhibit, Dataset, Filter, KpiStrip, Report, Sections } from '@bold-compass/core/model';
import type { AccessRule } from '../access/index.ts';

/** What can be asked of the records of a dataset. */
export type AnswerQuestion =
  | {
      kind: 'exhibit';
      /** Which of the questions about exhibits it is, by its path. */
      path: string;
      exhibit: DataExhibit;
      asked: Asked;
      request: unknown;
      /** Other reports that the question looks into, as who asks would open them. */
      reports: Record<string, Report | null>;
      /** The datasets of these, where they are others than the exhibit's. */
      datasets: Record<string, Dataset | null>;
    }
  /** The measures that titles and texts show. */
  | { kind: 'values'; measures: string[]; asked: Asked }
  /** The sections of a page or an exhibit; `own` is a condition of the exhibit itself. */
  | { kind: 'sections'; sections: Sections; asked: Asked; own: Filter | null }
  /** Where a watched figure stands. */
  | { kind: 'reading'; exhibit: Crosstab | KpiStrip; asked: Asked; watched: Watched };

/** What an answer is put together for: further questions about it go where that is kept. */
export const placeOf = (question: AnswerQuestion): string => ('exhibit' in question ? question.exhibit.id : question.kind);

/** A question with all that its answer is calculated from. */
export interface AnswerTask {
  dataset: Dataset;
  store: Store;
  /** The rules of who asks. */
  rules: AccessRule[];
  question: AnswerQuestion;
}
