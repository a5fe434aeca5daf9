import { z } from 'zod';
import { columnTypeSchema, nameSchema } from '../model/index.ts';
import { choiceSchema, type Analysis, type ImportColumn, type ImportPlan } from './analysis.ts';
import { readingSchema, type Reading } from './reading.ts';

/** How a source's first file was read, column by column: kept with the source, and gone through by every later file. */
export const importRecipeSchema = z.object({
  reading: readingSchema,
  columns: z.array(
    z.object({
      /** Heading in the file. */
      header: z.string(),
      /** Label of the column, and its physical name; the latter only where it is included. */
      name: z.string(),
      column: z.string().nullable(),
      type: columnTypeSchema,
      scale: z.number().int().min(0).max(12),
      include: z.boolean(),
      empties: z.array(z.string()),
      /** What is done with cells that are no value of the type, and with numbers that have more decimal places. */
      misfit: choiceSchema.optional(),
      rounded: choiceSchema.optional(),
    }),
  ),
  ragged: choiceSchema.optional(),
  duplicate: choiceSchema.optional(),
  /** Columns whose texts name members of a level of a dataset. */
  bindings: z.array(z.object({ column: z.string(), dataset: z.string(), level: nameSchema, by: z.enum(['key', 'label']) })),
});
export type ImportRecipe = z.infer<typeof importRecipeSchema>;

/** The recipe that a plan amounts to. `columnNames` are the physical names by position in the file. */
export function recipeOf(
  plan: ImportPlan,
  header: readonly string[],
  columnNames: ReadonlyMap<number, string>,
  bindings: ImportRecipe['bindings'],
): ImportRecipe {
  return {
    reading: plan.reading,
    columns: plan.columns.map(({ name, type, scale, include, empties }, index) => ({
      ...{ header: header[index] ?? '', name, column: columnNames.get(index) ?? null, type, scale, include, empties },
      misfit: plan.choices[`misfit ${index}`],
      rounded: plan.choices[`rounded ${index}`],
    })),
    ragged: plan.choices.ragged,
    duplicate: plan.choices.duplicate,
    bindings,
  };
}

const sameWords = (left: string, right: string): boolean => left.trim().toLowerCase() === right.trim().toLowerCase();

/**
 * How a later file is to be read: how it is written (format, delimiter, encoding) is its own, what its texts mean
 * (decimal separator, date format, missing-value markers, header row) is the first file's.
 */
export function readingByRecipe({ reading }: ImportRecipe, found: Reading, sheets: readonly string[]): Reading {
  return {
    ...found,
    ...{ decimalSign: reading.decimalSign, dateOrder: reading.dateOrder, emptyWords: reading.emptyWords },
    headerRow: found.format === reading.format ? reading.headerRow : found.headerRow,
    sheet: sheets.includes(reading.sheet) ? reading.sheet : found.sheet,
  };
}

/** The plan of a later file: each column as its heading was read before; columns that the first file did not have are left out. */
export function planByRecipe(recipe: ImportRecipe, analysis: Analysis, reading: Reading, key: readonly string[]): ImportPlan {
  const choices: ImportPlan['choices'] = {};
  if (recipe.ragged) choices.ragged = recipe.ragged;
  if (recipe.duplicate) choices.duplicate = recipe.duplicate;
  const positions = new Map<string, number>();
  // Of headings that are equal, the first is read as the first, the second as the second.
  const taken = new Set<(typeof recipe.columns)[number]>();
  const columns = analysis.header.map((header, index): ImportColumn => {
    const left = recipe.columns.filter((one) => !taken.has(one));
    const known = left.find((one) => sameWords(one.header, header)) ?? left.find((one) => one.include && sameWords(one.name, header));
    if (!known) return { name: header.trim().slice(0, 56) || `Column ${index + 1}`, type: 'text', scale: 0, include: false, empties: [] };
    taken.add(known);
    const { name, type, scale, include, empties, column, misfit, rounded } = known;
    if (misfit) choices[`misfit ${index}`] = misfit;
    if (rounded) choices[`rounded ${index}`] = rounded;
    if (column !== null) positions.set(column, index);
    return { name, type, scale, include, empties };
  });
  return { reading, columns, key: key.flatMap((column) => positions.get(column) ?? []), choices };
}
