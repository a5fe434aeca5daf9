import { z } from 'zod';
import { nameSchema } from './dataset.ts';
import { filterSchema } from './filter.ts';
import { directionSchema, numberFormatSchema } from './format.ts';

export const idSchema = z
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

/** Where an exhibit stands: on which page, and how much of the twelve columns it takes. Exhibits follow each other in order. */
const placed = {
  id: idSchema,
  /** The first page where it is not said. */
  page: idSchema.optional(),
  /** Columns of the grid of twelve. */
  width: z.number().int().min(2).max(12).default(12),
  /** In pixels; as high as it needs to be where it is not said. */
  height: z.number().int().min(120).max(4_000).optional(),
};

const exhibitBase = {
  ...placed,
  /** May hold values: {scope}, {data as of}, {prompt …}, {measure …}. */
  title: z.string().min(1).max(200),
  /** Conditions of the exhibit itself, under the scope. */
  filter: filterSchema.nullable().default(null),
  /** Another dataset than the report's. */
  dataset: z.string().min(1).optional(),
  note: z.string().max(2_000).default(''),
};

export const kpiStripSchema = z.object({ ...exhibitBase, kind: z.literal('kpis'), kpis: z.array(kpiSchema).min(1).max(6) });
export type KpiStrip = z.infer<typeof kpiStripSchema>;

/** Order along an axis: by the labels, or by a measure in one column (or row), largest or smallest first. */
export const orderSchema = z.discriminatedUnion('by', [
  z.object({ by: z.literal('label'), direction: z.enum(['asc', 'desc']).default('asc') }),
  /** By hand: the members named come first, in this order. */
  z.object({ by: z.literal('hand'), members: z.array(z.string()).max(2_000) }),
  /** By the member's smallest value of another field. */
  z.object({ by: z.literal('field'), field: nameSchema, direction: z.enum(['asc', 'desc']).default('asc') }),
  z.object({
    by: z.literal('measure'),
    measure: nameSchema,
    /** Path of the member on the other axis; empty for its total. */
    at: z.array(z.string()).default([]),
    direction: z.enum(['asc', 'desc']).default('desc'),
  }),
]);
export type Order = z.infer<typeof orderSchema>;

/** Some members of a level: the largest or smallest by a measure, within each parent or of all; the rest together, or left out. */
export const pickSchema = z.object({
  count: z.number().int().min(1).max(1_000),
  from: z.enum(['top', 'bottom']).default('top'),
  measure: nameSchema,
  /** Path of the member on the other axis; empty for its total. */
  at: z.array(z.string()).default([]),
  per: z.enum(['parent', 'all']).default('parent'),
  others: z.boolean().default(true),
});
export type Pick = z.infer<typeof pickSchema>;

export const levelSettingsSchema = z.object({
  /** Whether a member that stands open shows its own values. */
  subtotal: z.boolean().default(true),
  /** Where those stand: before its members or after them. Not said: on its own line in a tree, else where the axis' total stands. */
  subtotalPlace: z.enum(['before', 'after']).optional(),
  order: orderSchema.optional(),
  pick: pickSchema.optional(),
});
export type LevelSettings = z.infer<typeof levelSettingsSchema>;

/** Lines worked out from the members that are shown, and named so. */
export const summarySchema = z.enum(['average', 'sum', 'smallest', 'largest', 'median']);
export type Summary = z.infer<typeof summarySchema>;

export const axisSchema = z.object({
  fields: z.array(nameSchema),
  /** By the name of the field. */
  levels: z.record(z.string(), levelSettingsSchema).default({}),
  totalPlace: z.enum(['after', 'before']).default('after'),
  summaries: z.array(summarySchema).default([]),
  /** As a tree with toggles, or a column for each level; for the side. */
  layout: z.enum(['tree', 'columns']).default('tree'),
  /** In columns: a member's words on each of its rows, or on the first only. */
  repeatLabels: z.boolean().default(false),
  /** Grand total: always, never, or only when it says more than its single member. */
  total: z.enum(['auto', 'always', 'never']).default('auto'),
  /** How many levels stand open at first: 0 shows only the top level. */
  openLevels: z.number().int().min(0).default(0),
  order: orderSchema.default({ by: 'label', direction: 'asc' }),
  hideEmpty: z.boolean().default(true),
});
export type Axis = z.infer<typeof axisSchema>;

export const aggregationSchema = z.enum(['sum', 'avg', 'min', 'max', 'count', 'count_distinct', 'median', 'stddev']);
export type Aggregation = z.infer<typeof aggregationSchema>;

export const cellMeasureSchema = z.object({
  measure: nameSchema,
  /** Another aggregate than the measure's own, where that is a single one. */
  aggregation: aggregationSchema.optional(),
  heading: z.string().max(60).optional(),
  format: numberFormatSchema.optional(),
  /** What totals show: worked out from the records where it is not said. */
  totals: z.union([z.literal('none'), summarySchema]).optional(),
  negative: z.enum(['minus', 'parentheses', 'colour']).optional(),
  indicator: cellIndicatorSchema.optional(),
});
export type CellMeasure = z.infer<typeof cellMeasureSchema>;

/** An axis over some fields, everything else as usual. */
export const axisOver = (fields: string[], part: Partial<Axis> = {}): Axis => axisSchema.parse({ fields, ...part });

/** A drill-through link. The cell's members and the scope travel along, matched by field. */
export const drillSchema = z.object({ report: idSchema, label: z.string().min(1), measures: z.array(nameSchema).optional() });
export type Drill = z.infer<typeof drillSchema>;

/** Keeps members of a level whose value holds: against a number, or against the average of the level's members. */
export const measureConditionSchema = z.object({
  field: nameSchema,
  measure: nameSchema,
  op: z.enum(['gt', 'ge', 'lt', 'le']),
  value: z.union([z.number(), z.literal('average')]),
});
export type MeasureCondition = z.infer<typeof measureConditionSchema>;

export const tableStyleSchema = z.enum(['yearbook', 'ledger', 'open']);
export type TableStyle = z.infer<typeof tableStyleSchema>;

export const crosstabSchema = z.object({
  ...exhibitBase,
  kind: z.literal('crosstab'),
  side: axisSchema,
  top: axisSchema,
  cells: z.array(cellMeasureSchema),
  /** What a chosen cell is held against in the margin. */
  against: z.array(comparisonSchema).default([]),
  drills: z.array(drillSchema).default([]),
  /** Where several measures stand: side by side, or one below the other. */
  measuresOn: z.enum(['top', 'side']).default('top'),
  /** Only members whose value holds, at their own level. */
  conditions: z.array(measureConditionSchema).max(10).default([]),
  style: tableStyleSchema.default('yearbook'),
  /** Level whose members are told apart by a shade; none where it is not said. */
  banding: nameSchema.optional(),
  /** What stands where there is no value. */
  blank: z.string().max(20).default('–'),
  /** Widths in pixels: of the labels as `label`, of a measure by its position. */
  widths: z.record(z.string(), z.number().int().min(30).max(800)).default({}),
  /** Whether labels and headings stay in view. */
  freeze: z.boolean().default(true),
});
export type Crosstab = z.infer<typeof crosstabSchema>;

export const listAggregateSchema = z.enum(['sum', 'avg', 'min', 'max', 'count', 'count_distinct']);

/** A column of a list: a field of the records, or a measure where records are put together in groups. */
export const listColumnSchema = z
  .object({
    field: nameSchema.optional(),
    measure: nameSchema.optional(),
    heading: z.string().max(60).optional(),
    /** Aggregate in headers and footers of groups and in the total line. */
    total: listAggregateSchema.optional(),
    format: numberFormatSchema.optional(),
    width: z.number().int().min(30).max(800).optional(),
    hidden: z.boolean().optional(),
    /** How a text is shown. */
    as: z.enum(['text', 'link', 'image']).optional(),
  })
  .refine(({ field, measure }) => (field === undefined) !== (measure === undefined), 'A column is of a field or of a measure');
export type ListColumn = z.infer<typeof listColumnSchema>;

export const listSchema = z.object({
  ...exhibitBase,
  kind: z.literal('list'),
  fact: nameSchema,
  columns: z.array(listColumnSchema).min(1).max(60),
  order: z.array(z.object({ field: nameSchema, direction: z.enum(['asc', 'desc']) })).default([]),
  /** Fields that records are put together by, from the outermost in. */
  groups: z
    .array(z.object({ field: nameSchema, header: z.boolean().default(true), footer: z.boolean().default(true) }))
    .max(6)
    .default([]),
  /** Whether single records are shown, or only their groups. */
  detail: z.boolean().default(true),
  /** A group's words on each of its rows, or in its header only. */
  repeatLabels: z.boolean().default(false),
  rowNumbers: z.boolean().default(false),
  /** Leaf through pages, or scroll through all. */
  paging: z.enum(['pages', 'scroll']).default('pages'),
});
export type List = z.infer<typeof listSchema>;

/** Words in Markdown (CommonMark), which may hold values. */
export const textSchema = z.object({ ...placed, kind: z.literal('text'), text: z.string().max(20_000) });
export type Text = z.infer<typeof textSchema>;

/** A picture that the document holds itself, as a data URL (RFC 2397). */
export const imageSchema = z.object({
  ...placed,
  kind: z.literal('image'),
  source: z
    .string()
    .max(1_400_000, 'This picture is too large: at most one megabyte')
    .regex(/^data:image\/(png|jpeg|webp|gif|svg\+xml);base64,[A-Za-z0-9+/=]*$/, 'A picture is PNG, JPEG, WebP, GIF or SVG'),
  /** What is on it, for those who cannot see it. */
  words: z.string().max(300).default(''),
});
export type Image = z.infer<typeof imageSchema>;

export const dividerSchema = z.object({ ...placed, kind: z.literal('divider') });

export const exhibitSchema = z.discriminatedUnion('kind', [
  kpiStripSchema,
  crosstabSchema,
  listSchema,
  textSchema,
  imageSchema,
  dividerSchema,
]);
export type Exhibit = z.infer<typeof exhibitSchema>;
/** An exhibit that answers from data. */
export type DataExhibit = Extract<Exhibit, { filter: unknown }>;
export const isDataExhibit = (exhibit: Exhibit): exhibit is DataExhibit => 'filter' in exhibit;

export const pageSchema = z.object({ id: idSchema, title: z.string().min(1).max(60) });
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
  prompts: z.array(promptSchema).default([]),
  scopeLine: z.array(scopePieceSchema).default([]),
  exhibits: z.array(exhibitSchema).max(60),
  note: z.string().default(''),
});
/** A report: one document that can be read, compared, exported and imported. */
export type Report = z.infer<typeof reportSchema>;

/** What a reader set: chosen members per field. A field that is not named stands open to every member. */
export const scopeSchema = z.record(z.string(), z.array(z.string()));
export type Scope = z.infer<typeof scopeSchema>;
