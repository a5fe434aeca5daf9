import { z } from 'zod';
import { aggregatesOffered } from '../aggregates.ts';
import { comparisonSchema, indicatorSchema } from '../comparison.ts';
import { nameSchema } from '../dataset.ts';
import { numberFormatSchema } from '../format.ts';
import { drillSchema } from '../links.ts';
import { markSchema } from '../marks.ts';
import { axisSchema, summarySchema } from './axis.ts';
import { exhibitBase } from './base.ts';

export const aggregationSchema = z.enum(aggregatesOffered('cells'));
export type Aggregation = z.infer<typeof aggregationSchema>;

/** What totals of a measure show: nothing, or a summary that is of its own kind, as a count of figures is not. */
export const totalsSchema = z.union([z.literal('none'), summarySchema.exclude(['count'])]);
export type Totals = z.infer<typeof totalsSchema>;

export const cellMeasureSchema = z.object({
  measure: nameSchema,
  /** Another aggregate than the measure's own, where that is a single one. */
  aggregation: aggregationSchema.optional(),
  heading: z.string().max(60).optional(),
  /** A heading over this measure and those beside it that have the same. */
  spanning: z.string().max(60).optional(),
  format: numberFormatSchema.optional(),
  /** What totals show: calculated from the records where it is not said. */
  totals: totalsSchema.optional(),
  /** Another measure, or none, in the rows of a level, by the name of its field. */
  levels: z.record(z.string(), nameSchema.nullable()).optional(),
  /** Another measure, or none, in the total of the rows. */
  total: nameSchema.nullable().optional(),
  negative: z.enum(['minus', 'parentheses', 'colour']).optional(),
  indicator: indicatorSchema.optional(),
  /** What is drawn with its figures: bars, colours, arrows, sparklines, looks by rule. */
  marks: z.array(markSchema).max(20).optional(),
});
export type CellMeasure = z.infer<typeof cellMeasureSchema>;

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

/** What exhibits have that answer in cells: where members of two axes meet, measure by measure. */
export const cellExhibitShape = {
  ...exhibitBase,
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
};

export const crosstabSchema = z.object({ ...cellExhibitShape, kind: z.literal('crosstab') });
export type Crosstab = z.infer<typeof crosstabSchema>;
