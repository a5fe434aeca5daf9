import { z } from 'zod';
import { nameSchema } from './dataset.ts';
import { filterSchema } from './filter.ts';
import { directionSchema, numberFormatSchema } from './format.ts';

const idSchema = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[a-z0-9][a-z0-9-]*$/, 'An id is made of small letters, digits and hyphens');

/** A group of prompts along one hierarchy: each field's choices depend on the fields before it. */
export const promptSchema = z.object({
  id: idSchema,
  /** Fields from coarse to fine; a later one offers only what the earlier ones leave. */
  fields: z.array(nameSchema).min(1),
  /** Whether more than one member may be chosen. */
  multiple: z.boolean().default(true),
  /** Members chosen when a reader has not chosen, per field. */
  initial: z.record(z.string(), z.array(z.string())).default({}),
});
export type Prompt = z.infer<typeof promptSchema>;

/** A piece of the scope line: plain words, or the phrase of a prompt. */
export const scopePieceSchema = z.union([z.object({ text: z.string() }), z.object({ prompt: idSchema })]);
export type ScopePiece = z.infer<typeof scopePieceSchema>;

/** What a value is held against: another measure, the same one some periods back, or a fixed number. */
export const comparisonSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('measure'), measure: nameSchema }),
  z.object({
    kind: z.literal('back'),
    amount: z.number().int().min(1),
    unit: z.enum(['year', 'quarter', 'month', 'week', 'day']),
  }),
  z.object({ kind: z.literal('value'), value: z.number() }),
]);
export type Comparison = z.infer<typeof comparisonSchema>;

/**
 * When a value is on course. `ratio` holds value ÷ target against the limits, `difference` value − target.
 * With `lower` as direction the limits are upper limits.
 */
export const indicatorSchema = z.object({
  against: comparisonSchema,
  by: z.enum(['ratio', 'difference']).default('ratio'),
  onCourse: z.number(),
  drifting: z.number(),
  direction: directionSchema.default('higher'),
});
export type Indicator = z.infer<typeof indicatorSchema>;

/** An indicator beside a cell: held against a measure of the same cell or a fixed number. */
export const cellIndicatorSchema = indicatorSchema.extend({
  against: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('measure'), measure: nameSchema }),
    z.object({ kind: z.literal('value'), value: z.number() }),
  ]),
});
export type CellIndicator = z.infer<typeof cellIndicatorSchema>;

export const kpiSchema = z.object({
  id: idSchema,
  label: z.string().min(1),
  measure: nameSchema,
  format: numberFormatSchema.optional(),
  indicator: indicatorSchema,
  /** How the comparison is worded: "of target", "on last year". */
  words: z.string(),
});
export type Kpi = z.infer<typeof kpiSchema>;

const exhibitBase = {
  id: idSchema,
  title: z.string().min(1),
  /** Conditions of the exhibit itself, under the scope. */
  filter: filterSchema.nullable().default(null),
};

export const kpiStripSchema = z.object({ ...exhibitBase, kind: z.literal('kpis'), kpis: z.array(kpiSchema).min(1).max(6) });
export type KpiStrip = z.infer<typeof kpiStripSchema>;

/** Order along an axis: by the labels, or by a measure in one column (or row), largest or smallest first. */
export const orderSchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('label'), direction: z.enum(['asc', 'desc']).default('asc') }),
  z.object({
    by: z.literal('measure'),
    measure: nameSchema,
    /** Path of the member on the other axis; empty for its total. */
    at: z.array(z.string()).default([]),
    direction: z.enum(['asc', 'desc']).default('desc'),
  }),
]);
export type Order = z.infer<typeof orderSchema>;

export const axisSchema = z.object({
  fields: z.array(nameSchema),
  /** Grand total: always, never, or only when it says more than its single member. */
  total: z.enum(['auto', 'always', 'never']).default('auto'),
  /** How many levels stand open at first: 0 shows only the top level. */
  openLevels: z.number().int().min(0).default(0),
  order: orderSchema.default({ by: 'label', direction: 'asc' }),
  hideEmpty: z.boolean().default(true),
});
export type Axis = z.infer<typeof axisSchema>;

export const cellMeasureSchema = z.object({
  measure: nameSchema,
  heading: z.string().optional(),
  format: numberFormatSchema.optional(),
  indicator: cellIndicatorSchema.optional(),
});
export type CellMeasure = z.infer<typeof cellMeasureSchema>;

/** A drill-through link. The cell's members and the scope travel along, matched by field. */
export const drillSchema = z.object({ report: idSchema, label: z.string().min(1), measures: z.array(nameSchema).optional() });
export type Drill = z.infer<typeof drillSchema>;

export const crosstabSchema = z.object({
  ...exhibitBase,
  kind: z.literal('crosstab'),
  side: axisSchema,
  top: axisSchema,
  cells: z.array(cellMeasureSchema),
  /** What a chosen cell is held against in the margin. */
  against: z.array(comparisonSchema).default([]),
  drills: z.array(drillSchema).default([]),
  note: z.string().default(''),
});
export type Crosstab = z.infer<typeof crosstabSchema>;

export const listColumnSchema = z.object({
  field: nameSchema,
  heading: z.string().optional(),
  /** Aggregate in the total line. */
  total: z.enum(['sum', 'avg', 'min', 'max', 'count', 'count_distinct']).optional(),
  format: numberFormatSchema.optional(),
});
export type ListColumn = z.infer<typeof listColumnSchema>;

export const listSchema = z.object({
  ...exhibitBase,
  kind: z.literal('list'),
  fact: nameSchema,
  columns: z.array(listColumnSchema).min(1),
  order: z.array(z.object({ field: nameSchema, direction: z.enum(['asc', 'desc']) })).default([]),
});
export type List = z.infer<typeof listSchema>;

export const exhibitSchema = z.discriminatedUnion('kind', [kpiStripSchema, crosstabSchema, listSchema]);
export type Exhibit = z.infer<typeof exhibitSchema>;

export const REPORT_SCHEMA_VERSION = 1;

export const reportSchema = z.object({
  schemaVersion: z.literal(REPORT_SCHEMA_VERSION),
  id: idSchema,
  title: z.string().min(1).max(200),
  folder: z.string().default(''),
  dataset: z.string().min(1),
  prompts: z.array(promptSchema).default([]),
  scopeLine: z.array(scopePieceSchema).default([]),
  exhibits: z.array(exhibitSchema),
  note: z.string().default(''),
});
/** A report: one document that can be read, compared, exported and imported. */
export type Report = z.infer<typeof reportSchema>;

/** What a reader set: chosen members per field. A field that is not named stands open to every member. */
export const scopeSchema = z.record(z.string(), z.array(z.string()));
export type Scope = z.infer<typeof scopeSchema>;
