import { z } from 'zod';
import { nameSchema } from './dataset.ts';

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

/** The target of an indicator: what a value is held against, or the average of the members beside it, or nothing. */
export const targetSchema = z.discriminatedUnion('kind', [
  ...comparisonSchema.options,
  /** Of the members of the same parent; in a KPI, of the members of a field. */
  z.object({ kind: z.literal('average'), field: nameSchema.optional() }),
  z.object({ kind: z.literal('none') }),
]);
export type Target = z.infer<typeof targetSchema>;

/**
 * When a value is on course: value ÷ target (`ratio`), value − target (`difference`), or the value itself (`value`) is held
 * against the limits; or the limits are shares of the members beside it (`spread`): on course from 0.67 is the best third.
 * Each limit is where a state begins, the states in between included or left out: `ahead`, `drifting` and `far` make three
 * steps of two, or five. With `lower` better, states begin below their limits; in a `band` limits are distances from the target.
 */
export const indicatorSchema = z.object({
  against: targetSchema,
  by: z.enum(['ratio', 'difference', 'value', 'spread']).default('ratio'),
  ahead: z.number().optional(),
  onCourse: z.number(),
  drifting: z.number().optional(),
  far: z.number().optional(),
  direction: z.enum(['higher', 'lower', 'band']).default('higher'),
});
export type Indicator = z.infer<typeof indicatorSchema>;
