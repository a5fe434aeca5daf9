import { z } from 'zod';
import { measureSchema, type Dataset, type Measure } from './dataset.ts';
import { exhibitSchema } from './exhibits/index.ts';
import { idSchema } from './ids.ts';
import { derivedOf } from './lookup.ts';
import type { PromptValues } from './prompt-values.ts';
import { pageSetupSchema } from './page-setup.ts';
import { promptSchema } from './prompts.ts';
import { sectionsSchema } from './sections.ts';

/** A piece of the scope line: plain words, or the phrase of a prompt. */
export const scopePieceSchema = z.union([z.object({ text: z.string() }), z.object({ prompt: idSchema })]);
export type ScopePiece = z.infer<typeof scopePieceSchema>;

export const pageSchema = z.object({
  id: idSchema,
  title: z.string().min(1).max(60),
  /** Repeated for each member of a level, in the place of what is said of the report. */
  sections: sectionsSchema.optional(),
});
export type Page = z.infer<typeof pageSchema>;

export const REPORT_SCHEMA_VERSION = 1;

export const reportSchema = z.object({
  schemaVersion: z.literal(REPORT_SCHEMA_VERSION),
  id: idSchema,
  title: z.string().min(1).max(200),
  folder: z.string().default(''),
  dataset: z.string().min(1),
  subtitle: z.string().max(300).default(''),
  /** Several pages are tabs; none means one. */
  pages: z.array(pageSchema).max(30).default([]),
  /** Each page repeated for each member of a level. */
  sections: sectionsSchema.optional(),
  /** On paper; as is usual where nothing is said. */
  pageSetup: pageSetupSchema.optional(),
  prompts: z.array(promptSchema).max(60).default([]),
  scopeLine: z.array(scopePieceSchema).default([]),
  /** Calculated measures of this report alone, over its own dataset. */
  measures: z.array(measureSchema).max(100).default([]),
  exhibits: z.array(exhibitSchema).max(60),
  note: z.string().default(''),
});
/** A report: one document that can be read, compared, exported and imported. */
export type Report = z.infer<typeof reportSchema>;

/** As many datasets with measures of reports are remembered. */
const MOST_KNOWN = 60;

/**
 * A dataset with the measures of a report among its own, and what its prompts stand for in formulas. Measures of the dataset
 * come first where names are the same.
 */
export function withReportMeasures(dataset: Dataset, measures: readonly Measure[], promptValues: PromptValues = {}): Dataset {
  const hasValues = Object.keys(promptValues).length > 0;
  if (measures.length === 0 && !hasValues) return dataset;
  const known = derivedOf(dataset, 'with measures of reports', () => new Map<string, Dataset>());
  const key = JSON.stringify([measures, promptValues]);
  let own = known.get(key);
  if (!own) {
    const taken = new Set(dataset.measures.map(({ name }) => name.toLowerCase()));
    const all = [...dataset.measures, ...measures.filter(({ name }) => !taken.has(name.toLowerCase()))];
    own = { ...dataset, measures: all, ...(hasValues ? { promptValues } : {}) };
    // Every state of a draft has measures of its own: the first are forgotten.
    if (known.size >= MOST_KNOWN) known.delete(known.keys().next().value!);
    known.set(key, own);
  }
  return own;
}
