import type { Asked } from '@bold-compass/core/answers';
import type { Watched } from '@bold-compass/core/api';
import type { Store } from '@bold-compass/core/engine';
import type { Crosstab, DataExhibit, Dataset, KpiStrip, Report } from '@bold-compass/core/model';
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
  /** Where a watched figure stands. */
  | { kind: 'reading'; exhibit: Crosstab | KpiStrip; asked: Asked; watched: Watched };

/** What an answer is put together for: further questions about it go where that is kept. */
export const placeOf = (question: AnswerQuestion): string => (question.kind === 'values' ? 'texts' : question.exhibit.id);

/** A question with all that its answer is calculated from. */
export interface AnswerTask {
  dataset: Dataset;
  store: Store;
  /** The rules of who asks. */
  rules: AccessRule[];
  question: AnswerQuestion;
}
