import type { Finding } from '@bold-compass/core/api';
import { describeProblem, FormulaError, planCalculatedField, planMeasure } from '@bold-compass/core/formula';
import type { Dataset } from '@bold-compass/core/model';

/** What is wrong with the formulas of a definition. */
export interface FormulaFindings {
  /** Calculated fields that cannot be calculated. */
  fields: { fact: string; field: string; finding: Finding }[];
  measures: Finding[];
}

/** Checks every formula of a definition, by its words alone. */
export function formulaFindings(dataset: Dataset): FormulaFindings {
  const fields = dataset.facts.flatMap((fact) =>
    fact.fields.flatMap((field) => {
      const problem = field.formula ? problemOf(() => planCalculatedField(dataset, fact, field)) : null;
      if (problem === null) return [];
      const words = `${field.label} cannot be calculated. ${problem}`;
      const finding: Finding = { kind: 'refused', about: { fact: fact.name }, words, examples: [] };
      return [{ fact: fact.name, field: field.name, finding }];
    }),
  );
  const measures = dataset.measures.flatMap(({ name, label }): Finding[] => {
    const problem = problemOf(() => planMeasure(dataset, name));
    return problem === null ? [] : [{ kind: 'refused', about: { measure: name }, words: `${label}: ${problem}`, examples: [] }];
  });
  return { fields, measures };
}

/** What a formula is refused for, in words; null where it is sound. */
function problemOf(plan: () => unknown): string | null {
  try {
    plan();
    return null;
  } catch (error) {
    return error instanceof FormulaError ? describeProblem(error.problem) : (error as Error).message;
  }
}
