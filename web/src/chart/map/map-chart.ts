import { shapesFileSchema } from '@bold-compass/core/api';
import { assetId, type MapSettings } from '@bold-compass/core/model';
import { BubbleMapController, ChoroplethController, ColorScale, GeoFeature, SizeScale } from 'chartjs-chart-geo';
import { ask } from '../../api/client.ts';
import { Chart } from '../chart-js.ts';
import type { DrawChart } from '../drawing.ts';
import { mapMarks } from './map-marks.ts';
import { ownShapes, type PlaceShapes } from './place-shapes.ts';
import { pointsMap } from './points-map.ts';
import { ViewedProjection } from './projection.ts';
import { shapesMap } from './shapes-map.ts';
import { WORLD } from './world.ts';

Chart.register(BubbleMapController, ChoroplethController, ColorScale, GeoFeature, ViewedProjection, SizeScale, mapMarks);

/** Own shapes that were fetched, by where they are from. */
const fetched = new Map<string, Promise<PlaceShapes>>();

/** The places of a map in a report. Rejects with ApiProblem where own shapes cannot be fetched. */
export function placesOf(report: string, { shapes }: MapSettings): Promise<PlaceShapes> {
  const id = shapes && assetId(shapes.source);
  if (!shapes || !id) return Promise.resolve(WORLD);
  const path = `/reports/${encodeURIComponent(report)}/shapes/${id}`;
  const name = `${path} ${shapes.key}`;
  const known = fetched.get(name) ?? ask(shapesFileSchema, 'GET', path).then((file) => ownShapes(file, shapes.key));
  fetched.set(name, known);
  known.catch(() => fetched.delete(name));
  return known;
}

/** What draws a map of a report. */
export async function mapDrawing(report: string, map: MapSettings): Promise<DrawChart> {
  const places = await placesOf(report, map);
  return (drawn) => (map.points ? pointsMap(drawn, places) : shapesMap(drawn, places));
}
