import { z } from 'zod';
import { analysisSchema, choiceSchema, importColumnSchema, importPlanSchema, importRecipeSchema, readingSchema } from '../imports/index.ts';
import { columnTypeSchema, nameSchema, originSchema, sourceColumnSchema, sqlOriginSchema } from '../model/index.ts';

/** Requests and answers about data on its way in. */

export const bindingSchema = z.object({
  /** Position of the column in the file. */
  column: z.number().int().min(0),
  /** A level of a dimension, or a period of a calendar, of the dataset that the file becomes a fact of. */
  level: nameSchema,
  by: z.enum(['key', 'label']),
});
export type Binding = z.infer<typeof bindingSchema>;

/** What a file becomes. */
export const importTargetSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('dataset'), label: z.string().trim().min(1, 'Give the dataset a name').max(80) }),
  z.object({
    kind: z.literal('fact'),
    dataset: z.string().min(1),
    label: z.string().trim().min(1, 'Say what one set of these records is called').max(60),
    bindings: z.array(bindingSchema).max(20),
  }),
  z.object({ kind: z.enum(['replace', 'append', 'update']), source: z.string().min(1) }),
]);
export type ImportTarget = z.infer<typeof importTargetSchema>;

export const unmatchedSchema = z.object({
  column: z.number(),
  level: z.string(),
  levelLabel: z.string(),
  /** Texts that no member has, with the records that hold them and the members that look most alike. */
  texts: z.array(z.object({ text: z.string(), count: z.number(), near: z.array(z.object({ key: z.string(), label: z.string() })) })),
  total: z.number(),
  /** Records that hold any of them, listed or not. */
  records: z.number(),
});
export type Unmatched = z.infer<typeof unmatchedSchema>;

export const stagedSchema = z.object({
  rows: z.number(),
  skipped: z.number(),
  emptied: z.number(),
  /** Numbers that were rounded, where that was agreed to. */
  rounded: z.number(),
  /** What a later file would change; null for a new table. */
  changes: z
    .object({
      ...{ added: z.number(), changed: z.number(), unchanged: z.number(), removed: z.number() },
      /** Keys that several rows of the file have: nothing is imported while there are any. */
      doubled: z.array(z.object({ key: z.array(z.string()), keys: z.number(), examples: z.array(z.string()) })),
      /** Rows whose key a record has already, and rows that a record equals; for appending. */
      keysHere: z.number(),
      equal: z.number(),
      /** Whether this very file was imported before. */
      sameFile: z.boolean(),
    })
    .nullable(),
  unmatched: z.array(unmatchedSchema),
});
export type StagedView = z.infer<typeof stagedSchema>;

export const duplicatesSchema = z.object({
  key: z.array(z.number()),
  count: z.number(),
  examples: z.array(z.object({ row: z.number(), text: z.string() })),
});

export const importViewSchema = z.object({
  id: z.string(),
  fileName: z.string(),
  bytes: z.number(),
  /** What is going on, with its share of 1; null when nothing is. */
  work: z.object({ what: z.string(), share: z.number() }).nullable(),
  /** Why the last work ended without a result. */
  problem: z.string(),
  reading: readingSchema.nullable(),
  sheets: z.array(z.string()),
  analysis: analysisSchema.nullable(),
  /** The columns as found. */
  columns: z.array(importColumnSchema),
  duplicates: duplicatesSchema.nullable(),
  /** The source whose first file says how this one is read, and what that proposes beside the columns. */
  follows: z
    .object({ source: z.string(), label: z.string(), key: z.array(z.number()), choices: z.record(z.string(), choiceSchema) })
    .nullable(),
  staged: stagedSchema.nullable(),
});
export type ImportView = z.infer<typeof importViewSchema>;

export const importReadingSchema = z.object({ reading: readingSchema });
export const importFollowSchema = z.object({ source: z.string().min(1).nullable() });
/** Whether records that seem to be here already are appended all the same. */
export const importCommitSchema = z.object({ agreed: z.boolean().default(false) });
export const importKeySchema = z.object({ key: z.array(z.number().int().min(0)).min(1).max(8) });
export const importStageSchema = z.object({ plan: importPlanSchema, target: importTargetSchema });
export const correctionsSchema = z.object({
  dataset: z.string(),
  level: nameSchema,
  corrections: z.array(z.object({ text: z.string().max(500), member: z.string().max(500) })).max(1_000),
});
/** What a text of a file was said to mean. */
export const rememberedSchema = z.object({ level: nameSchema, text: z.string(), member: z.string() });
export type Remembered = z.infer<typeof rememberedSchema>;
export const forgetSchema = z.object({ level: nameSchema, text: z.string() });
export const importDoneSchema = z.object({ dataset: z.string(), report: z.string().nullable(), rows: z.number() });

export const loadSchema = z.object({
  id: z.number(),
  kind: z.enum(['import', 'replace', 'append', 'update', 'refresh']),
  state: z.enum(['running', 'done', 'stopped', 'failed', 'cancelled']),
  startedAt: z.string(),
  finishedAt: z.string().nullable(),
  rows: z.number().nullable(),
  message: z.string(),
  person: z.string().nullable(),
});
export type Load = z.infer<typeof loadSchema>;

export const sourceViewSchema = z.object({
  id: z.string(),
  label: z.string(),
  origin: originSchema,
  columns: z.array(sourceColumnSchema),
  key: z.array(z.string()),
  rows: z.number(),
  live: z.boolean(),
  schedule: z.string().nullable(),
  updatedAt: z.string(),
  revision: z.number(),
  /** How its first file was read, and every later one is. */
  recipe: importRecipeSchema.nullable(),
  datasets: z.array(z.object({ name: z.string(), label: z.string() })),
  /** The newest load. */
  load: loadSchema.nullable(),
});
export type SourceView = z.infer<typeof sourceViewSchema>;

export const connectionViewSchema = z.object({
  id: z.string(),
  label: z.string(),
  host: z.string(),
  port: z.number(),
  database: z.string(),
  user: z.string(),
  revision: z.number(),
});
export type ConnectionView = z.infer<typeof connectionViewSchema>;
/** A host name (RFC 1123), an IPv4 or an IPv6 address: paths of sockets would reach into this machine. */
const HOST = /^(?:[a-z0-9](?:[a-z0-9._-]*[a-z0-9])?|[0-9a-f:]*:[0-9a-f:.]*)$/i;

export const connectionFormSchema = z.object({
  label: z.string().trim().min(1, 'Give the connection a name').max(60),
  host: z
    .string()
    .trim()
    .min(1, 'Say where the server is')
    .max(255)
    .regex(HOST, 'Write a host name or an IP address, such as db.example.com or 10.0.0.7'),
  port: z.number().int().min(1).max(65_535),
  database: z.string().trim().min(1, 'Say which database').max(100),
  user: z.string().trim().min(1, 'Say which user').max(100),
  /** Not sent where a known connection keeps its own. */
  password: z.string().max(500).optional(),
  /** The revision that a change starts from. */
  revision: z.number().int().optional(),
});
export type ConnectionForm = z.infer<typeof connectionFormSchema>;

export const tableSummarySchema = z.object({
  schema: z.string(),
  name: z.string(),
  rows: z.number(),
  columns: z.array(z.object({ name: z.string(), type: z.string() })),
  /** Columns that name rows of other tables, by the foreign keys that the database keeps. */
  references: z.array(z.object({ column: z.string(), schema: z.string(), table: z.string(), key: z.string() })),
});
export type TableSummary = z.infer<typeof tableSummarySchema>;

const queryColumnSchema = z.object({ name: z.string(), type: columnTypeSchema, scale: z.number().nullable(), approximate: z.boolean() });
export const queryCheckSchema = z.object({ columns: z.array(queryColumnSchema), parameters: z.array(z.string()) });
export type QueryCheck = z.infer<typeof queryCheckSchema>;
export const queryPreviewSchema = z.object({
  columns: z.array(queryColumnSchema),
  rows: z.array(z.array(z.string().nullable())),
  /** Why there are fewer rows than asked for, or shorter values; empty where nothing is left out. */
  stopped: z.string(),
});
export type QueryPreview = z.infer<typeof queryPreviewSchema>;
export type TableSample = QueryPreview;

/** A column of one table that names rows of another by their key. */
export const joinAskedSchema = z.object({
  schema: z.string(),
  table: z.string(),
  column: z.string(),
  toSchema: z.string(),
  toTable: z.string(),
  key: z.string(),
});
export type JoinAsked = z.infer<typeof joinAskedSchema>;
/** What the data says of a join: rows that name one, those of them that name none there is, and keys that several rows have. */
export const joinCheckSchema = z.object({ named: z.number(), missing: z.number(), doubled: z.number(), examples: z.array(z.string()) });
export type JoinCheck = z.infer<typeof joinCheckSchema>;

export const queryRequestSchema = sqlOriginSchema.omit({ kind: true, ignored: true });
export const newSourceSchema = z.object({
  label: z.string().trim().min(1, 'Give the source a name').max(80),
  origin: sqlOriginSchema,
  live: z.boolean().default(false),
});
/** The revision that a change starts from: another one's is not overwritten. */
const revisionSchema = z.object({ revision: z.number().int() });
export const rewriteSourceSchema = sqlOriginSchema.pick({ text: true, parameters: true }).extend(revisionSchema.shape);
/** Says which new column stands for one that is missing, by their names in the query. */
export const refreshSchema = z.object({
  mapping: z.record(z.string(), z.string()).default({}),
  /** Whether new columns are brought in or left there; not said, they stop the refresh. */
  added: z.enum(['take', 'leave']).optional(),
});
export type RefreshChoice = z.infer<typeof refreshSchema>;
export const scheduleSchema = z.object({ schedule: z.string().trim().max(100).nullable(), revision: z.number().int() });

/** What a source answers now, against what datasets and reports expect of it. */
export const driftSchema = z.object({
  missing: z.array(z.string()),
  retyped: z.array(z.object({ column: z.string(), was: columnTypeSchema, is: columnTypeSchema })),
  added: z.array(z.string()),
  touches: z.array(z.object({ kind: z.enum(['dataset', 'measure', 'report']), label: z.string() })),
});
export type Drift = z.infer<typeof driftSchema>;
