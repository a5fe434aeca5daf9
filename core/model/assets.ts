import { z } from 'zod';

/**
 * What a report shows and is too large for its document: pictures, and shapes of maps. It is kept beside the document, which
 * names it, and held in the document as a data URL (RFC 2397) where that travels.
 */

/** Bytes that an asset may have at most. */
export const MOST_ASSET_BYTES = 5_000_000;
const MOST_CHARACTERS = Math.ceil(MOST_ASSET_BYTES / 3) * 4 + 60;

/** Kinds of pictures, as media types. */
export const PICTURE_TYPES = ['image/png', 'image/jpeg', 'image/webp', 'image/gif', 'image/svg+xml'] as const;
/** Shapes of places: GeoJSON (RFC 7946). */
export const SHAPES_TYPE = 'application/geo+json';

const PICTURE_DATA = 'data:image/(?:png|jpeg|webp|gif|svg\\+xml);base64,[A-Za-z0-9+/=]*';
const SHAPES_DATA = 'data:application/geo\\+json;base64,[A-Za-z0-9+/=]*';
const KEPT = 'asset:[0-9a-f]{64}';

const asset = (shape: string, words: string): z.ZodString =>
  z
    .string()
    .max(MOST_CHARACTERS, 'This file is too large: at most five megabytes')
    .regex(new RegExp(`^(?:${shape})$`), words);

const PICTURE_WORDS = 'A picture is PNG, JPEG, WebP, GIF or SVG';
const SHAPES_WORDS = 'Shapes of a map are GeoJSON';

/** A picture, kept or held; shapes, kept or held. */
export const pictureSourceSchema = asset(`${KEPT}|${PICTURE_DATA}`, PICTURE_WORDS);
export const shapesSourceSchema = asset(`${KEPT}|${SHAPES_DATA}`, SHAPES_WORDS);

/** What can be kept: a picture or shapes, as a data URL. */
export const assetDataSchema = asset(`${PICTURE_DATA}|${SHAPES_DATA}`, `${PICTURE_WORDS}. ${SHAPES_WORDS}.`);

const KEPT_ID = /^asset:([0-9a-f]{64})$/;

/** The id of what is kept beside the document, which is a SHA-256 hash; null where the document holds it. */
export const assetId = (source: string): string | null => KEPT_ID.exec(source)?.[1] ?? null;
export const keptAsset = (id: string): string => `asset:${id}`;
