import { tileServerViewSchema, type TileServerView } from '@bold-compass/core/api';
import { ask } from '../api/client.ts';

/** Whether there are tiles for maps, and whom they are owed to. */
export const tileServerQuestion = {
  queryKey: ['tile-server'],
  queryFn: ({ signal }: { signal: AbortSignal }): Promise<TileServerView> =>
    ask(tileServerViewSchema, 'GET', '/tile-server', undefined, signal),
  staleTime: 60_000,
};
