import { z } from 'zod';
import { placed } from './base.ts';

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
