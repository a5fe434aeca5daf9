import { describeProblem, FormulaError, planCalculatedField, planFormula, type FormulaProblem } from '@bold-compass/core/formula';
import { UnknownNameError, type Dataset, type Fact, type Field } from '@bold-compass/core/model';

/** What is wrong with a formula, where, and what would mend it where that is certain. */
export interface WrittenProblem {
  from: number;
  to: number;
  message: string;
  fix: { words: string; insert: string } | null;
}

/** The problem of a measure formula; null for a sound one. */
export const measureProblem = (dataset: Dataset, formula: string, fact?: string): WrittenProblem | null =>
  problemOf(formula, () => planFormula(dataset, formula, fact));

/** The problem of a condition on cells; null for a sound one. */
export function conditionProblem(dataset: Dataset, formula: string): WrittenProblem | null {
  const own = problemOf(formula, () => planFormula(dataset, `if(${formula}, 1, 0)`));
  if (!own) return null;
  const before = 'if('.length;
  const place = (at: number): number => Math.min(formula.length, Math.max(0, at - before));
  return { ...own, from: place(own.from), to: place(own.to), fix: null };
}

/** The problem of a calculated field's formula; null for a sound one. */
export const fieldProblem = (dataset: Dataset, fact: Fact, field: Field): WrittenProblem | null =>
  problemOf(field.formula ?? '', () => planCalculatedField(dataset, fact, field));

function problemOf(formula: string, plan: () => unknown): WrittenProblem | null {
  try {
    plan();
    return null;
  } catch (error) {
    if (error instanceof FormulaError) return written(formula, error.problem);
    if (error instanceof UnknownNameError) return { from: 0, to: formula.length, message: error.message, fix: null };
    throw error;
  }
}

function written(formula: string, problem: FormulaProblem): WrittenProblem {
  const { from, to } = problem.span;
  return {
    from: Math.min(from, formula.length),
    to: Math.min(to, formula.length),
    message: describeProblem(problem),
    fix: fixOf(formula, problem),
  };
}

/** What stands in the place of a problem once it is mended. */
function fixOf(formula: string, { code, span, subject, hint }: FormulaProblem): WrittenProblem['fix'] {
  const own = formula.slice(span.from, span.to);
  switch (code) {
    case 'unknown-name':
      return hint ? { words: `Write ${hint}`, insert: hint } : null;
    case 'unknown-function':
      return hint ? { words: `Write ${hint}`, insert: own.replace(new RegExp(`^${subject}`, 'i'), hint) } : null;
    case 'record-value-in-measure':
      return { words: `Write sum(${own})`, insert: `sum(${own})` };
    case 'condition-as-value':
      return { words: 'Write 1 and 0 for it', insert: `if(${own}, 1, 0)` };
    default:
      return null;
  }
}
