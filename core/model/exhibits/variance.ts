import { z } from 'zod';
import { nameSchema } from '../dataset.ts';
import { naming } from '../named-members.ts';
import { exhibitBase } from './base.ts';

/** What changed: a measure against itself some periods back, or in another member, and which members of which fields made the difference. */
export const varianceSchema = z.object({
  ...exhibitBase,
  kind: z.literal('variance'),
  measure: nameSchema,
  back: z
    .object({ amount: z.number().int().min(1).max(100), unit: z.enum(['year', 'quarter', 'month', 'week', 'day']) })
    .default({ amount: 1, unit: 'year' }),
  /** Two members of a field that are held against each other, in the place of two periods. */
  between: z
    .object({ field: nameSchema, before: naming('value', z.string().max(500)), after: naming('value', z.string().max(500)) })
    .optional(),
  /** Fields whose members are looked through. */
  fields: z.array(nameSchema).min(1).max(12),
  /** How many members of each are named; the rest stand together. */
  most: z.number().int().min(1).max(30).default(8),
  /** What is sold, where the measure is its value: the difference is then told by price, volume and mix over the members of a field. */
  effects: z.object({ quantity: nameSchema, field: nameSchema }).optional(),
});
export type Variance = z.infer<typeof varianceSchema>;
