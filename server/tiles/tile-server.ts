import { Readable } from 'node:stream';
import type { ReadableStream } from 'node:stream/web';
import { SIMULATED_TILES, type TileServer, type TileServerView } from '@bold-compass/core/api';
import { tables, type Database } from '../database/index.ts';
import { ByteCache } from '../data/index.ts';
import { ApiError } from '../problems/index.ts';
import { simulatedTile, type TilePlace } from './simulated-tiles.ts';

interface Tile {
  /** Media type. */
  type: string;
  bytes: Buffer;
}

/** How long a tile server may take, and how large a tile may be. */
const PATIENCE_MILLISECONDS = 8_000;
const MOST_TILE_BYTES = 1_000_000;
/** Tiles that are remembered, for everyone: they show nothing of the data. */
const REMEMBERED_BYTES = 32_000_000;
const TYPES = new Set(['image/png', 'image/jpeg', 'image/webp', 'image/avif', 'image/gif']);

/** A tile as a server sends it. Rejects with ApiError `connection-failed` for whatever is no picture of a tile. */
async function fetchTile(address: string, { z, x, y }: TilePlace): Promise<Tile> {
  const url = address.replaceAll('{z}', String(z)).replaceAll('{x}', String(x)).replaceAll('{y}', String(y));
  const failed = (why: string): ApiError => new ApiError('connection-failed', `The tile server ${why}. A steward can change its address.`);
  // A redirect could lead anywhere, also to what only this server can reach.
  const answer = await fetch(url, { redirect: 'error', signal: AbortSignal.timeout(PATIENCE_MILLISECONDS) }).catch(() => null);
  if (!answer) throw failed('does not answer');
  const type = (answer.headers.get('content-type') ?? '').split(';')[0].trim().toLowerCase();
  if (!answer.ok || !TYPES.has(type)) {
    await answer.body?.cancel();
    throw failed(answer.ok ? 'sent something that is no picture' : `answered with ${answer.status}`);
  }
  const parts: Uint8Array[] = [];
  let length = 0;
  try {
    for await (const part of answer.body ? Readable.fromWeb(answer.body as ReadableStream<Uint8Array>) : []) {
      length += part.length;
      if (length > MOST_TILE_BYTES) throw failed('sent a picture that is too large');
      parts.push(part);
    }
  } catch (error) {
    throw error instanceof ApiError ? error : failed('broke off');
  }
  return { type, bytes: Buffer.concat(parts) };
}

/**
 * Where the tiles behind maps come from. They are fetched by this server: pages ask no other one, nobody outside learns who
 * reads what, and a key in the address stays here.
 */
export class Tiles {
  private readonly remembered = new ByteCache<Tile>(REMEMBERED_BYTES, ({ bytes }) => bytes.length);

  constructor(private readonly db: Database) {}

  private async set(): Promise<TileServer | null> {
    const [row] = await this.db.select().from(tables.tileServer);
    return row ?? null;
  }

  async view(mayChange: boolean): Promise<TileServerView> {
    const own = await this.set();
    return { isSet: own !== null, attribution: own?.attribution ?? '', address: mayChange ? (own?.address ?? null) : null };
  }

  /** Sets the tile server once it has sent a tile. Rejects with ApiError `connection-failed`. */
  async change({ address, attribution }: TileServer): Promise<void> {
    if (address !== SIMULATED_TILES) await fetchTile(address, { z: 0, x: 0, y: 0 });
    await this.db
      .insert(tables.tileServer)
      .values({ address, attribution })
      .onConflictDoUpdate({ target: tables.tileServer.one, set: { address, attribution } });
  }

  async remove(): Promise<void> {
    await this.db.delete(tables.tileServer);
  }

  /** Rejects with ApiError `not-found` where no server is set or its scheme has no such tile, `connection-failed` where it does not send one. */
  async tile(place: TilePlace): Promise<Tile> {
    const { z, x, y } = place;
    const own = await this.set();
    if (!own || x >= 2 ** z || y >= 2 ** z) throw new ApiError('not-found', 'There is no such tile.');
    const key = JSON.stringify([own.address, z, x, y]);
    const known = this.remembered.get(key);
    if (known) return known;
    const fetched =
      own.address === SIMULATED_TILES
        ? Promise.resolve({ type: 'image/svg+xml', bytes: simulatedTile(place) })
        : fetchTile(own.address, place);
    this.remembered.set(key, fetched);
    return fetched;
  }
}
