import { z } from 'zod';
import { nameSchema } from './dataset.ts';
import { directionSchema } from './format.ts';

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
