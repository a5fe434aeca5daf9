import { describeProblem, FormulaError, mendOf, planCalculatedField, planFormula, type FormulaProblem } from '@bold-compass/core/formula';
import { UnknownNameError, type Dataset, type Fact, type Field } from '@bold-compass/core/model';

/** What is wrong with a formula, where, and what would mend it where that is certain. */
export interface WrittenProblem {
  from: number;
  to: number;
  message: string;
  /** What is written in the place of a part of the formula. */
  fix: { words: string; from: number; to: number; insert: string } | null;
}

/** The problem of a measure formula; null for a sound one. */
export const measureProblem = (dataset: Dataset, formula: string, fact?: string): WrittenProblem | null =>
  problemOf(dataset, formula, (text) => planFormula(dataset, text, fact));

/** The problem of a condition on cells; null for a sound one. */
export function conditionProblem(dataset: Dataset, formula: string): WrittenProblem | null {
  const asFormula = (condition: string): string => `if(${condition}, 1, 0)`;
  const own = problemOf(dataset, asFormula(formula), (text) => planFormula(dataset, text));
  if (!own) return null;
  const mend = mendOf(dataset, formula, (text) => problemOf(dataset, asFormula(text), (whole) => planFormula(dataset, whole)) === null);
  const before = 'if('.length;
  const place = (at: number): number => Math.min(formula.length, Math.max(0, at - before));
  return {
    ...own,
    from: place(own.from),
    to: place(own.to),
    fix: mend && { words: mend.words, from: 0, to: formula.length, insert: mend.formula },
  };
}

/** The problem of a calculated field's formula; null for a sound one. */
export const fieldProblem = (dataset: Dataset, fact: Fact, field: Field): WrittenProblem | null =>
  problemOf(dataset, field.formula ?? '', (text) => planCalculatedField(dataset, fact, { ...field, formula: text }));

function problemOf(dataset: Dataset, formula: string, plan: (formula: string) => unknown): WrittenProblem | null {
  try {
    plan(formula);
    return null;
  } catch (error) {
    if (error instanceof FormulaError) return written(dataset, formula, error.problem, plan);
    if (error instanceof UnknownNameError) return { from: 0, to: formula.length, message: error.message, fix: null };
    throw error;
  }
}

function written(dataset: Dataset, formula: string, problem: FormulaProblem, plan: (formula: string) => unknown): WrittenProblem {
  const { from, to } = problem.span;
  return {
    from: Math.min(from, formula.length),
    to: Math.min(to, formula.length),
    message: describeProblem(problem),
    fix: fixOf(dataset, formula, problem, plan),
  };
}

/** What mends a problem: what the problem itself tells, where that is enough; else what was probably meant. */
function fixOf(dataset: Dataset, formula: string, problem: FormulaProblem, plan: (formula: string) => unknown): WrittenProblem['fix'] {
  const isSound = (text: string): boolean => {
    try {
      plan(text);
      return true;
    } catch {
      return false;
    }
  };
  const { from, to } = problem.span;
  const near = nearFix(formula, problem);
  const own = near && { ...near, from, to };
  if (own && isSound(formula.slice(0, from) + own.insert + formula.slice(to))) return own;
  const mend = mendOf(dataset, formula, isSound);
  return mend ? { words: mend.words, from: 0, to: formula.length, insert: mend.formula } : own;
}

/** What stands in the place of a problem once it is mended, by what the problem tells. */
function nearFix(formula: string, { code, span, subject, hint }: FormulaProblem): { words: string; insert: string } | null {
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
