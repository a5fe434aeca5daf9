import { z } from 'zod';
import { columnTypeSchema } from './dataset.ts';

/** A column of a source: `from` is its name in the file or the query, `column` the physical name. */
export const sourceColumnSchema = z.object({
  column: z.string().min(1),
  label: z.string().min(1),
  from: z.string(),
  type: columnTypeSchema,
  scale: z.number().int().min(0).max(12),
  /** Numbers at the source that are kept as texts, since they are too long to be counted. */
  keptAsText: z.boolean().optional(),
  /** Holds binary floating-point numbers, which are roundings themselves. */
  approximate: z.boolean().optional(),
});
export type SourceColumn = z.infer<typeof sourceColumnSchema>;

/** A value that a query asks for by `:name`. */
export const queryParameterSchema = z.object({
  name: z.string().regex(/^[a-z][a-z0-9_]*$/, 'A parameter is called by small letters, digits and underscores'),
  type: z.enum(['any', 'text', 'number', 'date']),
  value: z.string().max(200),
  /** Column of the answer whose prompt fills it, where records stay where they are; `value` holds while nothing is chosen. */
  filledBy: z.string().optional(),
});
export type QueryParameter = z.infer<typeof queryParameterSchema>;

export const sqlOriginSchema = z.object({
  kind: z.literal('sql'),
  connection: z.string().min(1),
  text: z.string().trim().min(1, 'Write a query').max(50_000),
  parameters: z.array(queryParameterSchema).max(20).default([]),
  /** Columns of the answer that are left there. */
  ignored: z.array(z.string()).default([]),
});
export type SqlOrigin = z.infer<typeof sqlOriginSchema>;

/** Where the records of a source come from. */
export const originSchema = z.discriminatedUnion('kind', [z.object({ kind: z.literal('file'), fileName: z.string() }), sqlOriginSchema]);
export type Origin = z.infer<typeof originSchema>;
