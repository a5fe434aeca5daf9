import type { MapSources } from '@bold-compass/charts';
import type { MapSettings } from '@bold-compass/core/model';
import type { QueryClient } from '@tanstack/vue-query';
import { fetchShapes, shapesKey } from './shapes-query.ts';
import { tileServerQuestion } from './tile-server-query.ts';

/**
 * What a map of a report is drawn from. What is fetched goes when the session ends, as all answers do: who comes next may see
 * less of it. Its promises reject with ApiProblem.
 */
export const mapSources = (queries: QueryClient, report: string, map: MapSettings): MapSources => ({
  map,
  shapes: (id) =>
    queries.fetchQuery({
      queryKey: shapesKey(report, id),
      queryFn: ({ signal }) => fetchShapes(report, id, signal),
      staleTime: Infinity,
    }),
  hasTiles: async () => (await queries.fetchQuery(tileServerQuestion)).isSet,
});
