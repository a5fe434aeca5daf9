import { z } from 'zod';
import { nameSchema } from '../dataset.ts';
import { exhibitLinkSchema } from '../links.ts';
import { placed } from './base.ts';

/** Bytes that a picture may have at most. */
export const MOST_PICTURE_BYTES = 5_000_000;
const MOST_CHARACTERS = Math.ceil(MOST_PICTURE_BYTES / 3) * 4 + 40;

/** Kinds of pictures, as media types. */
export const PICTURE_TYPES = ['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'image/svg+xml'] as const;

const DATA = 'data:image/(?:png|jpeg|webp|gif|svg\\+xml);base64,[A-Za-z0-9+/=]*';
const ASSET = 'asset:[0-9a-f]{64}';
const ofPicture = (shape: string): z.ZodString =>
  z
    .string()
    .max(MOST_CHARACTERS, 'This picture is too large: at most five megabytes')
    .regex(new RegExp(`^(?:${shape})$`), 'A picture is PNG, JPEG, WebP, GIF or SVG');

/** A picture as a data URL (RFC 2397). */
export const pictureDataSchema = ofPicture(DATA);

const KEPT = /^asset:([0-9a-f]{64})$/;

/** The id of a picture that is kept beside the document, which is a SHA-256 hash; null where the document holds it. */
export const pictureId = (source: string): string | null => KEPT.exec(source)?.[1] ?? null;
export const keptPicture = (id: string): string => `asset:${id}`;

/** A picture: kept beside the document as an asset, or held in it where the document travels. */
export const imageSchema = z.object({
  ...placed,
  kind: z.literal('image'),
  source: ofPicture(`${ASSET}|${DATA}`),
  /** What is on it, for those who cannot see it. */
  words: z.string().max(300).default(''),
  /** Where a click on it leads, with what the reader chose. */
  link: exhibitLinkSchema.optional(),
  /** Members that the link leads to, beside what the reader chose. */
  chooses: z.record(nameSchema, z.array(z.string()).max(200)).optional(),
});
export type Image = z.infer<typeof imageSchema>;
