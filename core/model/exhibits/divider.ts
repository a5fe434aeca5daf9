import { z } from 'zod';
import { placed } from './base.ts';

export const dividerSchema = z.object({ ...placed, kind: z.literal('divider') });
export type Divider = z.infer<typeof dividerSchema>;
