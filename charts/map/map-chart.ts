import { assetId, type MapSettings } from '@bold-compass/core/model';
import type { Shapes } from '@bold-compass/core/shapes';
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

/** What a map is drawn from beside its figures. */
export interface MapSources {
  map: MapSettings;
  /** Shapes of the report's own, by their id. */
  shapes(id: string): Promise<Shapes>;
  /** Whether there are tiles to draw behind it. */
  hasTiles(): Promise<boolean>;
}

/** The places of a map. Rejects with what fetching own shapes does. */
export async function placesOf({ map, shapes }: Pick<MapSources, 'map' | 'shapes'>): Promise<PlaceShapes> {
  const id = map.shapes && assetId(map.shapes.source);
  return map.shapes && id ? asDrawn(await shapes(id), map.shapes.key) : WORLD;
}

/** What draws a map. */
export async function mapDrawing(sources: MapSources): Promise<DrawChart> {
  const { map } = sources;
  const [places, hasTiles] = await Promise.all([placesOf(sources), map.tiles ? sources.hasTiles() : false]);
  return (given) => (map.points ? pointsMap : shapesMap)(given, places, hasTiles);
}
