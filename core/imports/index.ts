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
  plainDate,
  plainDateTime,
  plainNumber,
  scaleOf,
  shapesOf,
  typeWords,
  type CellRule,
  type Notation,
} from './cells.ts';
export { DEFAULT_READING, EMPTY_WORDS, readingSchema, type Reading } from './reading.ts';
export { importRecipeSchema, planByRecipe, readingByRecipe, recipeOf, type ImportRecipe } from './recipe.ts';
