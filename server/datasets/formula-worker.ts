import type { Dataset } from '@bold-compass/core/model';
import { answering } from '../threads/index.ts';
import { formulaFindings } from './formula-findings.ts';

/** Entry point of a thread that checks formulas: a dataset may hold a thousand long ones. */
export default answering((dataset: Dataset) => Promise.resolve(formulaFindings(dataset)));
