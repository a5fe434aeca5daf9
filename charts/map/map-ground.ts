import type { Chart, Plugin } from 'chart.js';
import { geoPath, type GeoProjection } from 'd3-geo';
import type { Geometry } from 'geojson';
import type { Shape } from './place-shapes.ts';
import { projectionKey } from './projection.ts';

/** Places where nothing is measured, which are part of the first dataset of a map. */
export interface Ground {
  shapes: readonly Shape[];
  colour: string;
  border: string;
  /** Those that are asked about and have no value. */
  missing?: { shapes: readonly Shape[]; fill: CanvasPattern | string };
}

/** The least and the greatest longitude and latitude of a place; the whole way around where it crosses 180°. */
interface Box {
  west: number;
  east: number;
  south: number;
  north: number;
}

const boxes = new WeakMap<Shape, Box>();
function boxOf(shape: Shape): Box {
  const known = boxes.get(shape);
  if (known) return known;
  const box: Box = { west: Infinity, east: -Infinity, south: Infinity, north: -Infinity };
  const visit = (part: unknown): void => {
    if (!Array.isArray(part)) return;
    if (typeof part[0] !== 'number') return part.forEach(visit);
    const [longitude, latitude] = part as [number, number];
    box.west = Math.min(box.west, longitude);
    box.east = Math.max(box.east, longitude);
    box.south = Math.min(box.south, latitude);
    box.north = Math.max(box.north, latitude);
  };
  visit((shape.geometry as Exclude<Geometry, { type: 'GeometryCollection' }>).coordinates);
  boxes.set(shape, box);
  return box;
}

/** Points of the canvas that are looked back from, along each side; how far beyond what these tell is kept, as a share and in degrees. */
const [POINTS, SHARE, DEGREES] = [12, 0.25, 3];
/** Near a pole, and over more of the world than this, everything is kept. */
const [POLE, WIDEST] = [75, 150];

/** Whether a place may lie in the part of the canvas that is shown; errs on the side of drawing it. */
function isInView(projection: GeoProjection, { chartArea }: Pick<Chart, 'chartArea'>): (shape: Shape) => boolean {
  const { left, right, top, bottom } = chartArea;
  const middle = projection.invert?.([(left + right) / 2, (top + bottom) / 2]);
  const everything = (): boolean => true;
  if (!middle) return everything;
  /** Degrees east of the middle, from −180 to 180. */
  const eastOf = (longitude: number): number => ((((longitude - middle[0] + 180) % 360) + 360) % 360) - 180;
  const seen = { west: 0, east: 0, south: middle[1], north: middle[1] };
  for (let row = 0; row <= POINTS; row++)
    for (let column = 0; column <= POINTS; column++) {
      const at = projection.invert!([left + ((right - left) * column) / POINTS, top + ((bottom - top) * row) / POINTS]);
      if (!at || !Number.isFinite(at[0]) || !Number.isFinite(at[1])) return everything;
      const east = eastOf(at[0]);
      seen.west = Math.min(seen.west, east);
      seen.east = Math.max(seen.east, east);
      seen.south = Math.min(seen.south, at[1]);
      seen.north = Math.max(seen.north, at[1]);
    }
  if (seen.north > POLE || seen.south < -POLE || seen.east - seen.west > WIDEST) return everything;
  const beside = DEGREES + SHARE * (seen.east - seen.west);
  const above = DEGREES + SHARE * (seen.north - seen.south);
  return (shape) => {
    const { west, east, south, north } = boxOf(shape);
    if (south > seen.north + above || north < seen.south - above) return false;
    if (east - west > 180) return true;
    const from = eastOf(west);
    const to = from + (east - west);
    // A place that begins west of the edge of the world may reach into view beyond it.
    return [0, 360, -360].some((turn) => to + turn >= seen.west - beside && from + turn <= seen.east + beside);
  };
}

/** What was drawn last in a chart, which is drawn again with each hover. */
const drawn = new WeakMap<Chart, { shapes: readonly Shape[]; key: string; path: Path2D }>();

function pathOf(chart: Chart, shapes: readonly Shape[], projection: GeoProjection): Path2D {
  const key = projectionKey(projection);
  const known = drawn.get(chart);
  if (known?.key === key && known.shapes.length === shapes.length && known.shapes.every((shape, index) => shape === shapes[index]))
    return known.path;
  const features = shapes.filter(isInView(projection, chart));
  const path = new Path2D(geoPath(projection).digits(1)({ type: 'FeatureCollection', features }) ?? '');
  drawn.set(chart, { shapes, key, path });
  return path;
}

/** Draws the places where nothing is measured, below all others. */
export const mapGround: Plugin = {
  id: 'mapGround',
  beforeDatasetsDraw(chart) {
    const { ground } = (chart.data.datasets[0] ?? {}) as { ground?: Ground };
    if (!ground) return;
    const { projection } = chart.scales.projection as unknown as { projection: GeoProjection };
    const path = pathOf(chart, ground.shapes, projection);
    const { ctx } = chart;
    ctx.save();
    ctx.fillStyle = ground.colour;
    ctx.fill(path);
    ctx.strokeStyle = ground.border;
    ctx.lineWidth = 0.7;
    ctx.stroke(path);
    if (ground.missing && ground.missing.shapes.length > 0) {
      const without = new Path2D(geoPath(projection).digits(1)({ type: 'FeatureCollection', features: [...ground.missing.shapes] }) ?? '');
      ctx.fillStyle = ground.missing.fill;
      ctx.fill(without);
      ctx.stroke(without);
    }
    ctx.restore();
  },
};
