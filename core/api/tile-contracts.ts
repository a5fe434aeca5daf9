import { z } from 'zod';

/** The tile server that ships: it draws land and sea by itself, and asks nobody. */
export const SIMULATED_TILES = 'simulated';

/** Tiles of the Web Mercator scheme, 256 pixels wide: 2^zoom columns from 180° west, and as many rows from the north. */
export const TILE_SIZE = 256;
export const MOST_TILE_ZOOM = 19;

/** Whether an address names zoom, column and row of a tile, on a server that is written out. */
function isTileAddress(address: string): boolean {
  if (address === SIMULATED_TILES) return true;
  if (!/^https?:\/\/[^{}]+\//.test(address) || !['{z}', '{x}', '{y}'].every((place) => address.includes(place))) return false;
  return URL.canParse(address.replaceAll(/\{[xyz]\}/g, '0'));
}

/** Where the tiles behind maps come from, as a steward sets it. */
export const tileServerSchema = z.object({
  address: z
    .string()
    .trim()
    .max(500)
    .refine(isTileAddress, 'The address begins with https:// or http:// and holds {z}, {x} and {y} where zoom, column and row go.'),
  /** Whom the tiles are owed to, shown under each map. */
  attribution: z.string().trim().max(200).default(''),
});
export type TileServer = z.infer<typeof tileServerSchema>;

/** What everyone may know of the tile server; its address, which may hold a key, is for stewards. */
export const tileServerViewSchema = z.object({ isSet: z.boolean(), attribution: z.string(), address: z.string().nullable() });
export type TileServerView = z.infer<typeof tileServerViewSchema>;
