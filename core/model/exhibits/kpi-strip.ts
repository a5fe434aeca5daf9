import { z } from 'zod';
import { indicatorSchema } from '../comparison.ts';
import { nameSchema } from '../dataset.ts';
import { numberFormatSchema } from '../format.ts';
import { idSchema } from '../ids.ts';
import { exhibitLinkSchema } from '../links.ts';
import { exhibitBase } from './base.ts';

export const kpiSchema = z.object({
  id: idSchema,
  label: z.string().min(1),
  measure: nameSchema,
  format: numberFormatSchema.optional(),
  indicator: indicatorSchema,
  /** How the comparison is worded, such as "of target"; by what it is held against where nothing is said. */
  words: z.string().default(''),
  /** In the strip, as a large figure, or as a bar against its target and limits. */
  show: z.enum(['figure', 'large', 'bullet']).default('figure'),
  /** Its value through the last periods of a calendar level. */
  trend: z.object({ field: nameSchema, periods: z.number().int().min(2).max(60).default(24) }).optional(),
  /** How many members of a field stand where, and which are off course. */
  rollUp: z.object({ field: nameSchema }).optional(),
  /** Where it leads, with what the reader chose. */
  link: exhibitLinkSchema.optional(),
});
export type Kpi = z.infer<typeof kpiSchema>;

export const kpiStripSchema = z.object({ ...exhibitBase, kind: z.literal('kpis'), kpis: z.array(kpiSchema).min(1).max(12) });
export type KpiStrip = z.infer<typeof kpiStripSchema>;
