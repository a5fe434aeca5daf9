import { MOST_TILE_ZOOM, tileServerSchema, tileServerViewSchema } from '@bold-compass/core/api';
import { z } from 'zod';
import type { Caller } from '../people/index.ts';
import type { Tiles } from '../tiles/index.ts';
import { noBody, noParams, route, type Route } from './routing.ts';

const whole = (most: number): z.ZodType<number, string> =>
  z
    .string()
    .regex(/^\d{1,6}$/)
    .transform(Number)
    .pipe(z.number().max(most));
const tileParams = z.object({ z: whole(MOST_TILE_ZOOM), x: whole(2 ** MOST_TILE_ZOOM), y: whole(2 ** MOST_TILE_ZOOM) });
const isSteward = ({ person }: Caller): boolean => person.role === 'steward';

/** The tiles behind maps, and where they come from. */
export function tileRoutes(tiles: Tiles): Route[] {
  return [
    route({
      method: 'get',
      path: '/tile-server',
      summary: 'Whether a tile server is set, and whom its tiles are owed to; its address for stewards',
      open: 'person',
      params: noParams,
      body: noBody,
      answer: tileServerViewSchema,
      handle: ({ caller }) => tiles.view(isSteward(caller)),
    }),
    route({
      method: 'put',
      path: '/tile-server',
      summary: 'Set the tile server; it is tried first',
      open: ['steward'],
      params: noParams,
      body: tileServerSchema,
      answer: tileServerViewSchema,
      async handle({ body }) {
        await tiles.change(body);
        return tiles.view(true);
      },
    }),
    route({
      method: 'delete',
      path: '/tile-server',
      summary: 'Maps have no tiles any more',
      open: ['steward'],
      params: noParams,
      body: noBody,
      answer: z.object({}),
      async handle() {
        await tiles.remove();
        return {};
      },
    }),
    route({
      method: 'get',
      path: '/tiles/:z/:x/:y',
      summary: 'A tile behind a map',
      open: 'person',
      sends: 'image/*',
      params: tileParams,
      body: noBody,
      answer: z.void(),
      async handle({ params, response }) {
        const { type, bytes } = await tiles.tile(params);
        // Opened by itself, a drawing runs no scripts.
        response.set({ 'Content-Security-Policy': "sandbox; default-src 'none'; style-src 'unsafe-inline'" });
        response.set({ 'Cache-Control': 'private, max-age=3600', 'Content-Type': type }).send(bytes);
      },
    }),
  ];
}
