import { createRequire } from 'node:module';
import { TILE_SIZE } from '@bold-compass/core/api';
import { geoGraticule, geoMercator, geoPath, type GeoPath } from 'd3-geo';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';

/** A tile of the Web Mercator scheme. */
export interface TilePlace {
  z: number;
  x: number;
  y: number;
}

/** Degrees between the lines of latitude and longitude, from the farthest zoom to the nearest. */
const STEPS = [30, 20, 10, 10, 5, 5, 2, 1, 1, 0.5, 0.25];
/** How far a tile is drawn beyond its edges, so that lines meet those of the next one, in pixels. */
const BESIDE = 2;

let land: ReturnType<typeof feature> | null = null;
/** Natural Earth's public-domain land at 1 : 50 million; read when the first tile is drawn. */
function landShapes(): ReturnType<typeof feature> {
  if (land) return land;
  const topology = createRequire(import.meta.url)('world-atlas/land-50m.json') as Topology<{ land: GeometryCollection }>;
  land = feature(topology, topology.objects.land);
  return land;
}

/** Draws what lies in a tile: the world is 2π · scale pixels wide (spherical Mercator). */
function pathIn({ z, x, y }: TilePlace): GeoPath {
  const world = TILE_SIZE * 2 ** z;
  return geoPath(
    geoMercator()
      .scale(world / (2 * Math.PI))
      .translate([world / 2 - x * TILE_SIZE, world / 2 - y * TILE_SIZE])
      .clipExtent([
        [-BESIDE, -BESIDE],
        [TILE_SIZE + BESIDE, TILE_SIZE + BESIDE],
      ]),
  ).digits(1);
}

/** A stand-in for a tile server: land, sea and lines of latitude and longitude, as SVG. */
export function simulatedTile(place: TilePlace): Buffer {
  const path = pathIn(place);
  const step = STEPS[Math.min(place.z, STEPS.length - 1)];
  const graticule = geoGraticule()
    .step([step, step])
    .extentMajor([
      [-180, -85],
      [180, 85],
    ])();
  return Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${TILE_SIZE}" height="${TILE_SIZE}" viewBox="0 0 ${TILE_SIZE} ${TILE_SIZE}">` +
      `<rect width="${TILE_SIZE}" height="${TILE_SIZE}" fill="#dfe8ea"/>` +
      `<path d="${path(landShapes()) ?? ''}" fill="#f4efe3" stroke="#b9b6a8" stroke-width="0.8"/>` +
      `<path d="${path(graticule) ?? ''}" fill="none" stroke="#c4cfcf" stroke-width="0.5"/>` +
      '</svg>',
  );
}
