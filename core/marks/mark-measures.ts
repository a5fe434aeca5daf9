import { FormulaError, parseFormula, planMeasure } from '../formula/index.ts';
import { backMeasure } from '../indicators/index.ts';
import { UnknownNameError, withReportMeasures, type CellMeasure, type Dataset, type Measure } from '../model/index.ts';
import { stateMeasure } from './indicator-words.ts';
import { markKindOf } from './kinds.ts';

const NUMBER = { kind: 'number', decimals: 0, unit: 'one' } as const;

/** The measure that is 1 where a condition holds and 0 where it does not. Throws FormulaError. */
export function ruleMeasure(formula: string): Measure {
  parseFormula(formula);
  const name = `if(${formula}, 1, 0)`;
  return { name, label: formula, format: NUMBER, direction: 'higher', formula: name };
}

/** A measure with what is drawn with it, and how it is judged. */
type MarkedMeasure = Pick<CellMeasure, 'measure' | 'marks' | 'indicator'>;

const formulasOf = (cells: readonly MarkedMeasure[]): string[] => [
  ...new Set(cells.flatMap(({ marks = [] }) => marks.flatMap((mark) => markKindOf(mark).formula?.(mark) ?? []))),
];

/** Values some periods back that figures are judged against. */
const targetsOf = (dataset: Dataset, cells: readonly MarkedMeasure[]): Measure[] =>
  cells.flatMap(({ measure, indicator }) => (indicator?.against.kind === 'back' ? [backMeasure(dataset, measure, indicator.against)] : []));

/** What members stand in the order of their states by. */
const ordersByState = (dataset: Dataset, cells: readonly MarkedMeasure[]): Measure[] =>
  cells.flatMap((cell) => stateMeasure(dataset, cell) ?? []);

/**
 * The dataset with the conditions of the rules of some measures, and what these are judged against, among its measures. Throws
 * FormulaError, and UnknownNameError.
 */
export const withMarkMeasures = (dataset: Dataset, cells: readonly MarkedMeasure[]): Dataset =>
  withReportMeasures(
    dataset,
    [...formulasOf(cells).map(ruleMeasure), ...targetsOf(dataset, cells), ...ordersByState(dataset, cells)],
    dataset.promptValues,
  );

/** What is wrong with a condition, in words; null where it can be calculated. */
export function ruleFault(dataset: Dataset, formula: string): string | null {
  try {
    const measure = ruleMeasure(formula);
    planMeasure({ ...dataset, measures: [...dataset.measures, measure] }, measure.name);
    return null;
  } catch (error) {
    if (error instanceof FormulaError || error instanceof UnknownNameError) return error.message;
    throw error;
  }
}
