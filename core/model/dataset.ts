import { z } from 'zod';
import { filterSchema } from './filter.ts';
import type { PromptValues } from './prompt-values.ts';
import { directionSchema, numberFormatSchema } from './format.ts';

/** Names that every object has something by (ECMAScript 2025, 20.1.3): what is kept by name would be mixed up with these. */
const PROGRAM_NAMES = new Set(Object.getOwnPropertyNames(Object.prototype));
export const isFreeName = (name: string): boolean => !PROGRAM_NAMES.has(name);

/** A formula name: what formulas, filters and reports call a field or a measure. */
export const nameSchema = z
  .string()
  .min(1)
  .max(80)
  .regex(/^[^"\u0000-\u001f]+$/, 'A name cannot hold quotes or control characters')
  .refine(isFreeName, { error: (issue) => `“${String(issue.input)}” is a word of programs and cannot be a name. Choose another one` });

/** The id of a registered table: one that an import or a refresh made. Where it lies in the database is not for definitions to say. */
export const tableIdSchema = z.string().min(1).max(63);

export const columnTypeSchema = z.enum(['text', 'integer', 'decimal', 'date', 'datetime', 'boolean']);
export type ColumnType = z.infer<typeof columnTypeSchema>;
export const isNumberType = (type: ColumnType | undefined): type is 'integer' | 'decimal' => type === 'integer' || type === 'decimal';

/** A field of a table: `column` is the physical name, `name` the formula name, unique in the dataset. */
export const fieldSchema = z.object({
  name: nameSchema,
  label: z.string().min(1),
  column: z.string().min(1),
  type: columnTypeSchema,
  /** Digits after the point, for decimals. */
  scale: z.number().int().min(0).max(12).default(0),
  description: z.string().optional(),
  /** Not offered when composing; what uses it already goes on. */
  hidden: z.boolean().optional(),
  /** Where it is offered, among others that belong together. */
  folder: z.string().optional(),
  /** Over stored fields of the same record, of this type; `column` is then calculated, a number rounded to `scale`. For facts only. */
  formula: z.string().min(1).optional(),
});
export type Field = z.infer<typeof fieldSchema>;

/**
 * The periods a date can be grouped by. Fiscal ones begin with the month that the calendar says; those of weeks cut
 * that year into whole weeks, thirteen a quarter, as months of four, four and five.
 */
export const periodSchema = z.enum([
  ...(['year', 'half_year', 'quarter', 'month', 'iso_week', 'day', 'weekday'] as const),
  ...(['fiscal_year', 'fiscal_half_year', 'fiscal_quarter'] as const),
  ...(['week_year', 'week_quarter', 'week_month', 'week'] as const),
]);
export type Period = z.infer<typeof periodSchema>;

export const levelSchema = fieldSchema.extend({
  /** Column with the words for a member, where the key is a code. */
  labelColumn: z.string().optional(),
  /** Plural for "every …" and counts. */
  plural: z.string().min(1),
  /** A field of the same dimension whose order the members follow, where that is not the order of their words. */
  orderBy: nameSchema.optional(),
  /**
   * Column of words that stand below several parents. `column` is then calculated: the words with the parent's after
   * them, "Valencia, Spain", so that each member is below one parent.
   */
  within: z.string().min(1).optional(),
});
export type Level = z.infer<typeof levelSchema>;

/** A dimension kept in a table of its own; levels are ordered from coarse to fine, the last being its grain. */
export const tableDimensionSchema = z.object({
  kind: z.literal('table'),
  name: nameSchema,
  label: z.string().min(1),
  table: tableIdSchema,
  /** Primary key column that facts refer to. */
  key: z.string().min(1),
  levels: z.array(levelSchema).min(1),
  /** Fields that describe the grain but are no levels (a list price). */
  attributes: z.array(fieldSchema).default([]),
  /**
   * A parent–child tree: `parent` holds the key of the row above, `label` the words. The levels are then those of the
   * tree, from its roots down, in columns that are calculated: `level_1`, `level_1_label` and so on.
   */
  tree: z.object({ parent: z.string().min(1), label: z.string().min(1) }).optional(),
});
export type TableDimension = z.infer<typeof tableDimensionSchema>;

export const calendarLevelSchema = z.object({
  name: nameSchema,
  label: z.string().min(1),
  plural: z.string().min(1),
  period: periodSchema,
});
export type CalendarLevel = z.infer<typeof calendarLevelSchema>;

/** The dates of the facts, grouped by periods. It needs no table. */
export const calendarDimensionSchema = z.object({
  kind: z.literal('calendar'),
  name: nameSchema,
  label: z.string().min(1),
  levels: z.array(calendarLevelSchema).min(1),
  /** Month (1 to 12) that the fiscal year begins with. */
  yearStart: z.number().int().min(1).max(12).optional(),
});
export type CalendarDimension = z.infer<typeof calendarDimensionSchema>;

export const dimensionSchema = z.discriminatedUnion('kind', [tableDimensionSchema, calendarDimensionSchema]);
export type Dimension = z.infer<typeof dimensionSchema>;

export const linkSchema = z.object({
  dimension: nameSchema,
  /** The fact's column that holds the key (or, at a coarser level, that level's member; or the date). */
  column: z.string().min(1),
  /** The level the fact is kept at, where that is coarser than the dimension's grain. */
  level: nameSchema.optional(),
});
export type Link = z.infer<typeof linkSchema>;

export const factSchema = z.object({
  name: nameSchema,
  label: z.string().min(1),
  /** What one record is, for sentences: "order line", "order lines". */
  record: z.object({ one: z.string().min(1), many: z.string().min(1) }),
  table: tableIdSchema,
  /** Its records stay where they are: `table` is then the source that is asked each time. */
  live: z.boolean().optional(),
  links: z.array(linkSchema).default([]),
  fields: z.array(fieldSchema).default([]),
  /** What is always left out, in words of the report too ("Status is not Cancelled"). */
  filter: filterSchema.nullable().default(null),
  /**
   * The first day that its records are complete from, as an ISO 8601 date: earlier days stand against nothing. The first of the
   * month of its first record where it is not said.
   */
  completeFrom: z.iso.date().optional(),
  /** Fields that its records are shown with, behind a figure; the usual ones where it is not said. */
  recordColumns: z.array(nameSchema).max(60).optional(),
  /** How the grain is told where a measure has no value: "Targets are set per country and month". */
  grain: z.string().optional(),
});
export type Fact = z.infer<typeof factSchema>;

export const measureSchema = z.object({
  name: nameSchema,
  label: z.string().min(1),
  /** Short heading for narrow columns. */
  heading: z.string().optional(),
  formula: z.string().min(1).max(20_000),
  /** The fact its records are in; not set for arithmetic over measures. */
  fact: nameSchema.optional(),
  format: numberFormatSchema.default({ kind: 'number', decimals: 0, unit: 'one' }),
  direction: directionSchema.default('higher'),
  description: z.string().optional(),
  hidden: z.boolean().optional(),
  folder: z.string().optional(),
});
export type Measure = z.infer<typeof measureSchema>;

export const datasetSchema = z
  .object({
    schemaVersion: z.literal(1),
    name: z.string().min(1),
    label: z.string().min(1),
    description: z.string().default(''),
    dimensions: z.array(dimensionSchema),
    facts: z.array(factSchema).min(1),
    measures: z.array(measureSchema).max(1_000, 'A dataset has at most 1,000 measures. Remove those that nobody needs'),
  })
  .superRefine((dataset, context) => {
    const seen = new Map<string, string>();
    const claim = (name: string, what: string): void => {
      const key = name.toLowerCase();
      const other = seen.get(key);
      if (other) context.addIssue({ code: 'custom', message: `The name "${name}" stands for both ${other} and ${what}.` });
      seen.set(key, what);
    };
    for (const dimension of dataset.dimensions) {
      for (const level of dimension.levels) claim(level.name, `the level ${level.label}`);
      if (dimension.kind === 'table') dimension.attributes.forEach((field) => claim(field.name, `the field ${field.label}`));
    }
    for (const fact of dataset.facts) fact.fields.forEach((field) => claim(field.name, `the field ${field.label}`));
    for (const measure of dataset.measures) claim(measure.name, `the measure ${measure.label}`);
    for (const fact of dataset.facts) {
      for (const link of fact.links) {
        const dimension = dataset.dimensions.find((one) => one.name === link.dimension);
        if (!dimension) {
          context.addIssue({ code: 'custom', message: `${fact.label} is linked to "${link.dimension}", which is no dimension here.` });
        } else if (link.level && !dimension.levels.some((level) => level.name === link.level)) {
          context.addIssue({
            code: 'custom',
            message: `${fact.label} is linked at "${link.level}", which is no level of ${dimension.label}.`,
          });
        }
      }
    }
  });
/** A dataset's definition: what its tables mean; within a report with what its prompts stand for in formulas. */
export type Dataset = z.infer<typeof datasetSchema> & { promptValues?: PromptValues };
