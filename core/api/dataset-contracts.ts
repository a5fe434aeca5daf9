import { z } from 'zod';
import { columnTypeSchema, datasetSchema, nameSchema, filterSchema, numberFormatSchema } from '../model/index.ts';

/** Requests and answers about what data means. */

export const datasetViewSchema = z.object({
  /** The definition being worked on, or the applied one. */
  definition: datasetSchema,
  applied: datasetSchema,
  version: z.number(),
  draftRevision: z.number(),
  isDraft: z.boolean(),
});
export type DatasetView = z.infer<typeof datasetViewSchema>;

/** The revision of the draft that is applied or discarded. */
export const draftRevisionSchema = z.object({ revision: z.number().int() });
/** `base` is the applied definition that the draft began from, where the sender knows it. */
export const saveDatasetSchema = z.object({ definition: datasetSchema, revision: z.number().int(), base: datasetSchema.optional() });

/** Something that was found by looking at the data. `refused`: it would make wrong numbers. */
export const findingSchema = z.object({
  kind: z.enum(['refused', 'notice', 'fine']),
  about: z.object({
    fact: z.string().optional(),
    dimension: z.string().optional(),
    level: z.string().optional(),
    measure: z.string().optional(),
  }),
  words: z.string(),
  examples: z.array(z.string()),
});
export type Finding = z.infer<typeof findingSchema>;

export const dataTableSchema = z.object({
  table: z.string(),
  label: z.string(),
  rows: z.number(),
  columns: z.array(z.object({ column: z.string(), label: z.string(), type: columnTypeSchema, scale: z.number() })),
});
export type DataTable = z.infer<typeof dataTableSchema>;

/** A column of a fact that seems to name rows of a table. */
export const joinSuggestionSchema = z.object({
  fact: nameSchema,
  column: z.string(),
  table: z.string(),
  tableLabel: z.string(),
  key: z.string(),
  /** Share of the column's values that the table has, of 1. */
  matched: z.number(),
});
export type JoinSuggestion = z.infer<typeof joinSuggestionSchema>;

export const touchedSchema = z.object({
  reports: z.array(
    z.object({
      id: z.string(),
      title: z.string(),
      breaks: z.array(z.string()),
      /** Fields that it names and that are of another type. */
      retyped: z.array(z.object({ label: z.string(), before: columnTypeSchema, after: columnTypeSchema })),
      /** Measures that it shows and that come to something else, in its total under what it starts with; null for no value. */
      values: z.array(
        z.object({ label: z.string(), format: numberFormatSchema, before: z.number().nullable(), after: z.number().nullable() }),
      ),
    }),
  ),
});
export type Touched = z.infer<typeof touchedSchema>;

/** Members as a tree, with the rows below each. */
export const memberNodeSchema = z.object({ path: z.array(z.string().nullable()), label: z.string(), rows: z.number() });
export type MemberNode = z.infer<typeof memberNodeSchema>;

export const accessViewSchema = z.object({
  people: z.array(z.object({ id: z.string(), name: z.string(), title: z.string(), role: z.string(), groups: z.array(z.string()) })),
  groups: z.array(z.object({ id: z.string(), name: z.string(), people: z.number() })),
  rules: z.array(
    z.object({ person: z.string().nullable(), group: z.string().nullable(), field: nameSchema, members: z.array(z.string()) }),
  ),
  revision: z.number(),
  /** Whether it has been said who sees the dataset; until then only its maker does. */
  decided: z.boolean(),
  owner: z.string().nullable(),
});
export type AccessView = z.infer<typeof accessViewSchema>;
export const saveAccessSchema = z.object({
  rules: z
    .array(
      z
        .object({
          person: z.string().nullable(),
          group: z.string().nullable(),
          field: nameSchema,
          members: z.array(z.string()).min(1, 'Choose at least one member').max(5_000),
        })
        .refine(({ person, group }) => (person === null) !== (group === null), 'A rule is for a person or for a group'),
    )
    .max(500),
  /** The revision that the change starts from. */
  revision: z.number().int(),
});

/** A figure that must hold, and what the data says of it now. */
export const controlTotalSchema = z.object({
  id: z.string(),
  dataset: z.string(),
  measure: z.string(),
  /** The slice in words, a sentence for each condition. */
  conditions: z.array(z.string()),
  /** As it was typed. Empty for those who do not see all records of the dataset: it is a figure of all of them. */
  expected: z.string(),
  value: z.number().nullable(),
  difference: z.number().nullable(),
  /** Whether the figure ties out to half of its last digit; `unknown` where it cannot be calculated, which `reason` tells. */
  state: z.enum(['ties', 'differs', 'unknown']),
  reason: z.string(),
  note: z.string(),
  person: z.string(),
  createdAt: z.string(),
});
export type ControlTotal = z.infer<typeof controlTotalSchema>;

export const pinControlTotalSchema = z.object({
  measure: z.string().min(1).max(80),
  filter: filterSchema.nullable(),
  /** A decimal number as it stands in the books: 118204113.15. */
  expected: z
    .string()
    .trim()
    .regex(/^[+-]?\d{1,15}(\.\d{1,9})?$/, 'Write a number with a point before its decimals, such as 118204113.15'),
  note: z.string().trim().max(500).default(''),
});
export type PinControlTotal = z.infer<typeof pinControlTotalSchema>;

/** Titles of the reports that read each field of a dataset, by its name. */
export const fieldUsesSchema = z.record(z.string(), z.array(z.string()));
export type FieldUses = z.infer<typeof fieldUsesSchema>;

export const measureUseSchema = z.object({
  dataset: z.string(),
  datasetLabel: z.string(),
  name: z.string(),
  label: z.string(),
  description: z.string(),
  formula: z.string(),
  fact: z.string(),
  usedBy: z.array(z.object({ id: z.string(), title: z.string() })),
  usedIn: z.array(z.string()),
  /** When its definition changed last, and by whom; null where it is as it came. */
  changedAt: z.string().nullable(),
  changedBy: z.string().nullable(),
  /** Control totals pinned on it, and those of them that do not tie out. */
  controlTotals: z.number(),
  untied: z.number(),
});
export type MeasureUse = z.infer<typeof measureUseSchema>;
