export { describeProblem, FormulaError, type FormulaProblem, type Span, type Syntax } from './syntax.ts';
export { parseFormula } from './parse.ts';
export { printFormula, printName } from './print.ts';
export { planFormula, planMeasure, type FactAggregate, type MeasurePlan } from './plan.ts';
export {
  everyPart,
  goesByPlace,
  partsOfCell,
  type Cell,
  type CellType,
  type CellValue,
  type DateMove,
  type Place,
  type Position,
} from './cell.ts';
export { CELL_FUNCTIONS } from './cell-functions.ts';
export { SCALAR_FUNCTIONS, type ScalarFunctionName } from './scalar-functions.ts';
export { knownNames } from './conditions.ts';
export { stepsOf } from './steps.ts';
export { FUNCTION_HELP, type FunctionHelp } from './help.ts';
export { parser as formulaParser } from './grammar/parser.js';
export { isKeyword } from './keywords.ts';
export { nearestName } from './names.ts';
export { namesIn } from './mentions.ts';
export { mendOf, type Mend } from './mends.ts';
export { planCalculatedField, withFormula } from './calculated.ts';
