export { describeProblem, FormulaError, type FormulaProblem, type Span, type Syntax } from './syntax.ts';
export { parseFormula } from './parse.ts';
export { printFormula, printName } from './print.ts';
export { planFormula, planMeasure, evaluateCell, type CellExpression, type FactAggregate, type MeasurePlan } from './plan.ts';
export { knownNames } from './conditions.ts';
export { namesIn } from './mentions.ts';
export { planCalculatedField } from './calculated.ts';
