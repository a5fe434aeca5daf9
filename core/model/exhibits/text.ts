import { z } from 'zod';
import { placed } from './base.ts';

/** Words in Markdown (CommonMark), which may hold values. */
export const textSchema = z.object({ ...placed, kind: z.literal('text'), text: z.string().max(20_000) });
export type Text = z.infer<typeof textSchema>;
