import { assetId, type MapSettings } from '@bold-compass/core/model';
import type { Shapes } from '@bold-compass/core/shapes';
import type { QueryClient } from '@tanstack/vue-query';
import { BubbleMapController, ChoroplethController, ColorScale, SizeScale } from 'chartjs-chart-geo';
import { Chart } from '../chart-js.ts';
import type { DrawChart } from '../drawing.ts';
import { mapGround } from './map-ground.ts';
import { mapMarks } from './map-marks.ts';
import { mapTiles } from './tiles.ts';
import { mapWays } from './map-ways.ts';
import { PlaceElement } from './place-element.ts';
import { ownShapes, type PlaceShapes } from './place-shapes.ts';
import { pointsMap } from './points-map.ts';
import { ViewedProjection } from './projection.ts';
import { shapesMap } from './shapes-map.ts';
import { fetchShapes, shapesKey } from '../shapes-query.ts';
import { tileServerQuestion } from '../tile-server-query.ts';
import { WORLD } from './world.ts';

Chart.register(
  BubbleMapController,
  ChoroplethController,
  ColorScale,
  PlaceElement,
  ViewedProjection,
  SizeScale,
  mapMarks,
  mapTiles,
  mapGround,
  mapWays,
);

/** Own shapes as they are drawn, by what was fetched and the property that names them. */
const drawn = new WeakMap<Shapes, Map<string, PlaceShapes>>();
function asDrawn(file: Shapes, key: string): PlaceShapes {
  const own = drawn.get(file) ?? new Map<string, PlaceShapes>();
  drawn.set(file, own);
  const places = own.get(key) ?? ownShapes(file, key);
  own.set(key, places);
  return places;
}

/**
 * The places of a map in a report. What is fetched goes when the session ends, as all answers do: who comes next may see less of
 * it. Rejects with ApiProblem where own shapes cannot be fetched.
 */
export async function placesOf(queries: QueryClient, report: string, { shapes }: MapSettings): Promise<PlaceShapes> {
  const id = shapes && assetId(shapes.source);
  if (!shapes || !id) return WORLD;
  const question = {
    queryKey: shapesKey(report, id),
    queryFn: ({ signal }: { signal: AbortSignal }) => fetchShapes(report, id, signal),
    staleTime: Infinity,
  };
  return asDrawn(await queries.fetchQuery(question), shapes.key);
}

const NO_TILES = { isSet: false };

/** What draws a map of a report. */
export async function mapDrawing(queries: QueryClient, report: string, map: MapSettings): Promise<DrawChart> {
  const [places, { isSet }] = await Promise.all([
    placesOf(queries, report, map),
    map.tiles ? queries.fetchQuery(tileServerQuestion) : NO_TILES,
  ]);
  return (given) => (map.points ? pointsMap : shapesMap)(given, places, isSet);
}
