import { z } from 'zod';
import { pictureSourceSchema } from '../assets.ts';
import { nameSchema } from '../dataset.ts';
import { exhibitLinkSchema } from '../links.ts';
import { naming } from '../named-members.ts';
import { placed } from './base.ts';

/** A picture: kept beside the document as an asset, or held in it where the document travels. */
export const imageSchema = z.object({
  ...placed,
  kind: z.literal('image'),
  source: pictureSourceSchema,
  /** What is on it, for those who cannot see it. */
  words: z.string().max(300).default(''),
  /** Where a click on it leads, with what the reader chose. */
  link: exhibitLinkSchema.optional(),
  /** Members that the link leads to, beside what the reader chose. */
  chooses: naming('by field', z.record(nameSchema, z.array(z.string()).max(200))).optional(),
});
export type Image = z.infer<typeof imageSchema>;
