import { z } from 'zod';

/** How a number is written. The unit divides the value and is named once, in the header. Durations are kept in seconds. */
export const numberFormatSchema = z.object({
  kind: z.enum(['number', 'currency', 'percent', 'duration']).default('number'),
  decimals: z.number().int().min(0).max(6).default(0),
  unit: z.enum(['one', 'thousand', 'million']).default('one'),
  /** ISO 4217 code, for `currency`. */
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/)
    .optional(),
});
export type NumberFormat = z.infer<typeof numberFormatSchema>;

export const directionSchema = z.enum(['higher', 'lower']);
/** Which way is good. */
export type Direction = z.infer<typeof directionSchema>;
