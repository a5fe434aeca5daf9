import { z } from 'zod';
import { columnTypeSchema, datasetSchema, nameSchema } from '../model/index.ts';

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
export const saveDatasetSchema = z.object({ definition: datasetSchema, revision: z.number().int() });

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
  reports: z.array(z.object({ id: z.string(), title: z.string(), breaks: z.array(z.string()) })),
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
});
export type MeasureUse = z.infer<typeof measureUseSchema>;
