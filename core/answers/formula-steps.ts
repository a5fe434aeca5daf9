import type { FormulaRequest, FormulaResponse, FormulaStep } from '../api/index.ts';
import { isoDate } from '../calendar/index.ts';
import { pathCondition } from '../crosstab/index.ts';
import { FormulaError, parseFormula, planFormula, stepsOf } from '../formula/index.ts';
import { allOf, UnknownNameError, type Crosstab, type Dataset, type Filter, type Measure } from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import type { CellPlace } from './drill-through.ts';
import { orNull } from './numbers.ts';
import { valuesInCell } from './placed-values.ts';
import { askedFilter, type Asked } from './scope.ts';

/** A formula as a measure of a dataset, under a name that no formula can write. */
const asMeasure = (formula: string, fact: string | undefined): Measure => ({
  ...{ name: `\u0000${formula}`, label: formula, formula, fact, direction: 'higher' },
  format: { kind: 'number', decimals: 2, unit: 'one' },
});

/** Formulas that can be calculated; the others are left out. */
const sound = (dataset: Dataset, formulas: string[], fact: string | undefined): string[] =>
  formulas.filter((formula) => {
    try {
      planFormula(dataset, formula, fact);
      return true;
    } catch (error) {
      if (error instanceof FormulaError || error instanceof UnknownNameError) return false;
      throw error;
    }
  });

/** What parts of formulas come to in a cell. */
export async function stepValues(
  context: AnswerContext,
  exhibit: Crosstab,
  formulas: string[],
  fact: string | undefined,
  place: CellPlace,
  scope: Filter | null,
  cell: Filter | null,
): Promise<FormulaStep[]> {
  const { dataset } = context;
  const measures = sound(dataset, formulas, fact).map((formula) => asMeasure(formula, fact));
  if (measures.length === 0) return [];
  const own = { ...dataset, measures: [...dataset.measures, ...measures] };
  const names = measures.map(({ name }) => name);
  const values = await valuesInCell({ ...context, dataset: own }, exhibit, names, place, scope, cell);
  return measures.map(({ name, formula }) => {
    const { value, text, reason } = values.get(name)!;
    const { type } = planFormula(dataset, formula, fact);
    const date = type === 'date' && !Number.isNaN(value) ? isoDate(value) : null;
    return { formula, value: date === null ? orNull(value) : null, text: text ?? date, reason };
  });
}

/** What a formula that is being written comes to in a cell, with the parts that lead to it. Throws FormulaError for one that is none. */
export function formulaSteps(context: AnswerContext, exhibit: Crosstab, asked: Asked, request: FormulaRequest): Promise<FormulaResponse> {
  const { formula, fact, side, top } = request;
  planFormula(context.dataset, formula, fact);
  const scope = askedFilter(asked);
  const cell = allOf(scope, exhibit.filter, pathCondition(exhibit.side.fields, side, []), pathCondition(exhibit.top.fields, top, []));
  return stepValues(context, exhibit, stepsOf(parseFormula(formula)), fact, { ...request, measure: '' }, scope, cell);
}
