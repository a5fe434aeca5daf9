import { z } from 'zod';
import { indicatorSchema } from '../comparison.ts';
import { nameSchema } from '../dataset.ts';
import { numberFormatSchema } from '../format.ts';
import { idSchema } from '../ids.ts';
import { exhibitBase } from './base.ts';

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

export const kpiStripSchema = z.object({ ...exhibitBase, kind: z.literal('kpis'), kpis: z.array(kpiSchema).min(1).max(6) });
export type KpiStrip = z.infer<typeof kpiStripSchema>;
