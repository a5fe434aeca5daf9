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
  roomFor,
  type Analysis,
  type Choice,
  type ImportColumn,
  type ImportPlan,
  type Problem,
} from './analysis.ts';
export {
  BOOLEAN_BIT,
  cellValue,
  LONGEST_TEXT,
  MOST_DIGITS,
  numberCell,
  plainDate,
  plainDateTime,
  plainNumber,
  scaleOf,
  shapesOf,
  textCell,
  typeWords,
  writtenCell,
  type CellRule,
  type Notation,
} from './cells.ts';
export { IMPORT_FORMATS, importFormat, type ImportFormat } from './formats.ts';
export { DEFAULT_READING, EMPTY_WORDS, readingSchema, type Reading } from './reading.ts';
export { importRecipeSchema, planByRecipe, readingByRecipe, recipeOf, type ImportRecipe } from './recipe.ts';
