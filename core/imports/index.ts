export {
  analysisSchema,
  Analyst,
  choiceSchema,
  findProblems,
  guessColumns,
  guessNotation,
  importColumnSchema,
  importPlanSchema,
  MOST_SCALE,
  type Analysis,
  type Choice,
  type ImportColumn,
  type ImportPlan,
  type Problem,
} from './analysis.ts';
export {
  BOOLEAN_BIT,
  cellValue,
  plainDate,
  plainDateTime,
  plainNumber,
  shapesOf,
  typeWords,
  type CellRule,
  type Notation,
} from './cells.ts';
export { DEFAULT_READING, EMPTY_WORDS, readingSchema, type Reading } from './reading.ts';
