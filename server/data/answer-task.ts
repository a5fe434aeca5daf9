import type { Asked } from '@bold-compass/core/answers';
import type { Store } from '@bold-compass/core/engine';
import type { DataExhibit, Dataset, Report } from '@bold-compass/core/model';
import type { AccessRule } from '../access/index.ts';

/** A question about an exhibit, with all that its answer is worked out from. */
export interface AnswerTask {
  dataset: Dataset;
  store: Store;
  /** The rules of who asks. */
  rules: AccessRule[];
  /** Which of the questions it is, by its path. */
  path: string;
  exhibit: DataExhibit;
  asked: Asked;
  request: unknown;
  /** Other reports that the question looks into, as who asks would open them. */
  reports: Record<string, Report | null>;
  /** The datasets of these, where they are others than the exhibit's. */
  datasets: Record<string, Dataset | null>;
}
