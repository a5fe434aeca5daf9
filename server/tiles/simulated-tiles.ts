import { createRequire } from 'node:module';
import { TILE_SIZE } from '@bold-compass/core/api';
import { geoGraticule, geoMercator, geoPath, type GeoProjection } from 'd3-geo';
import { feature } from 'topojson-client';
import type { GeometryCollection as GeometryObjects, MultiPolygon, Polygon } from 'geojson';
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
/** From this zoom on coasts are drawn at 1 : 50 million, before at 1 : 110 million. */
const FINE_FROM = 4;

/** A piece of land with its least and greatest longitude and latitude. */
interface Piece {
  shape: Polygon;
  box: [west: number, south: number, east: number, north: number];
}

function piecesOf(scale: '110m' | '50m'): Piece[] {
  const topology = createRequire(import.meta.url)(`world-atlas/land-${scale}.json`) as Topology<{ land: GeometryCollection }>;
  return feature(topology, topology.objects.land).features.flatMap(({ geometry }) =>
    (geometry as MultiPolygon).coordinates.map((coordinates): Piece => {
      const [longitudes, latitudes] = [0, 1].map((at) => coordinates[0].map((point) => point[at]));
      const box: Piece['box'] = [Math.min(...longitudes), Math.min(...latitudes), Math.max(...longitudes), Math.max(...latitudes)];
      return { shape: { type: 'Polygon', coordinates }, box };
    }),
  );
}

const lands = new Map<string, Piece[]>();
/** Natural Earth's public-domain land in a tile, coarser for tiles that show much of it; read when the first tile is drawn. */
function landIn(z: number, { west, south, east, north }: Bounds): GeometryObjects {
  const scale = z < FINE_FROM ? '110m' : '50m';
  const land = lands.get(scale) ?? piecesOf(scale);
  lands.set(scale, land);
  const inside = land.filter(({ box }) => box[0] <= east && box[2] >= west && box[1] <= north && box[3] >= south);
  return { type: 'GeometryCollection', geometries: inside.map(({ shape }) => shape) };
}

interface Bounds {
  west: number;
  south: number;
  east: number;
  north: number;
}
function boundsOf({ invert }: GeoProjection): Bounds {
  const [west, north] = invert!([-BESIDE, -BESIDE])!;
  const [east, south] = invert!([TILE_SIZE + BESIDE, TILE_SIZE + BESIDE])!;
  // Beyond 180° the world begins again, so a tile that reaches over it seems to end before it begins.
  return west < east ? { west, south, east, north } : { west: -180, south, east: 180, north };
}

/** The lines that cross a tile: those of the whole world would be thousands. */
function graticuleIn(z: number, { west, south, east, north }: Bounds): ReturnType<ReturnType<typeof geoGraticule>> {
  const step = STEPS[Math.min(z, STEPS.length - 1)];
  const down = (degrees: number): number => Math.floor(degrees / step) * step;
  return geoGraticule()
    .step([step, step])
    .extent([
      [Math.max(-180, down(west) - step), Math.max(-85, down(south) - step)],
      [Math.min(180, down(east) + 2 * step), Math.min(85, down(north) + 2 * step)],
    ])();
}

/** How the world lies around a tile: it is 2π · scale pixels wide (spherical Mercator). */
function projectionIn({ z, x, y }: TilePlace): GeoProjection {
  const world = TILE_SIZE * 2 ** z;
  return (
    geoMercator()
      .scale(world / (2 * Math.PI))
      .translate([world / 2 - x * TILE_SIZE, world / 2 - y * TILE_SIZE])
      // Between points of coasts lines are straight: bending them takes half a second where tiles are near.
      .precision(0)
      .clipExtent([
        [-BESIDE, -BESIDE],
        [TILE_SIZE + BESIDE, TILE_SIZE + BESIDE],
      ])
  );
}

/** A stand-in for a tile server: land, sea and lines of latitude and longitude, as SVG. */
export function simulatedTile(place: TilePlace): Buffer {
  const projection = projectionIn(place);
  const bounds = boundsOf(projection);
  const path = geoPath(projection).digits(1);
  return Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${TILE_SIZE}" height="${TILE_SIZE}" viewBox="0 0 ${TILE_SIZE} ${TILE_SIZE}">` +
      `<rect width="${TILE_SIZE}" height="${TILE_SIZE}" fill="#dfe8ea"/>` +
      `<path d="${path(landIn(place.z, bounds)) ?? ''}" fill="#f4efe3" stroke="#b9b6a8" stroke-width="0.8"/>` +
      `<path d="${path(graticuleIn(place.z, bounds)) ?? ''}" fill="none" stroke="#c4cfcf" stroke-width="0.5"/>` +
      '</svg>',
  );
}
