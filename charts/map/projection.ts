import { ProjectionScale } from 'chartjs-chart-geo';
import { geoArea, geoBounds, geoCentroid, geoConicEqualArea, geoEqualEarth, geoMercator, type GeoProjection } from 'd3-geo';
import type { Feature, Geometry } from 'geojson';
import type { MapView } from '../drawing.ts';
import type { Shape } from './place-shapes.ts';

/** What is calculated once for each of some things, and forgotten with them. */
function onceFor<Key extends object, Value>(work: (key: Key) => Value): (key: Key) => Value {
  const known = new WeakMap<Key, Value>();
  return (key) => {
    if (!known.has(key)) known.set(key, work(key));
    return known.get(key)!;
  };
}

/** The largest piece of a place, for the part of the world that is shown. */
export const mainland = onceFor((shape: Shape): Shape => {
  const { geometry } = shape;
  if (geometry.type !== 'MultiPolygon') return shape;
  const pieces = geometry.coordinates.map((coordinates) => ({ type: 'Polygon' as const, coordinates }));
  return { ...shape, geometry: pieces.reduce((largest, piece) => (geoArea(piece) > geoArea(largest) ? piece : largest)) };
});

/** The middle of the largest piece: islands far away do not draw it off. */
export const centreOf = onceFor((shape: Shape): { longitude: number; latitude: number } => {
  const [longitude, latitude] = geoCentroid(mainland(shape));
  return { longitude, latitude };
});

/** What a map shows of the world: the places that it has to hold. */
type Outline = readonly Feature<Geometry>[];

/** So many outlines are known again. */
const MOST_OUTLINES = 40;
const outlines = new Map<string, Outline>();
const numbers = new WeakMap<Shape, number>();
let shapesSeen = 0;

/** The outline of some places: the same one for the same places, so that what follows from it is calculated once. */
export function outlineOf(shapes: readonly Shape[]): Outline {
  const key = shapes
    .map((shape) => {
      if (!numbers.has(shape)) numbers.set(shape, shapesSeen++);
      return numbers.get(shape);
    })
    .join(' ');
  let own = outlines.get(key);
  if (!own) {
    if (outlines.size >= MOST_OUTLINES) outlines.delete(outlines.keys().next().value!);
    outlines.set(key, (own = shapes.map(mainland)));
  }
  return own;
}

/** Wider parts of the world, in degrees, are shown as the whole world is. */
const WIDEST = 150;

const boundsOf = onceFor((outline: Outline) => geoBounds({ type: 'FeatureCollection', features: [...outline] }));

/** How wide the part of the world is that holds some places, in degrees of longitude. */
export function widthOf(outline: Outline): number {
  if (outline.length === 0) return 360;
  const [[west], [east]] = boundsOf(outline);
  return Math.max(1, east >= west ? east - west : east - west + 360);
}

/**
 * A projection that keeps areas: turned to what is shown, with the parallels that suit it. Over tiles it is theirs, which keeps
 * directions.
 */
export function projectionOf(outline: Outline, overTiles: boolean): GeoProjection {
  if (overTiles) return geoMercator();
  if (outline.length === 0) return geoEqualEarth();
  const [[west, south], [, north]] = boundsOf(outline);
  const width = widthOf(outline);
  if (width > WIDEST || (south < 0 && north > 0)) return geoEqualEarth();
  const sixth = (north - south) / 6;
  return geoConicEqualArea()
    .parallels([south + sixth, north - sixth])
    .rotate([-(west + width / 2), 0]);
}

/** Tells projections apart that put a place elsewhere. */
export function projectionKey(projection: GeoProjection): string {
  const { parallels } = projection as { parallels?: () => [number, number] };
  return JSON.stringify([
    projection.scale(),
    projection.translate(),
    projection.rotate(),
    parallels?.call(projection),
    projection.clipExtent(),
  ]);
}

/** How far places are drawn beyond what is shown, in pixels. */
const BESIDE = 8;

/** How an outline lies in a projection of a given scale, as the library keeps it. */
type Fitted = object;
/** By outline, and whether it is over tiles: what follows from both is the same in every map. */
const fitted = onceFor((_outline: Outline) => new Map<boolean, Fitted>());

/** A projection that a reader may have come nearer to: it fits the data first, and is then enlarged around a place. */
export class ViewedProjection extends ProjectionScale {
  static override readonly id = 'viewed' as never;

  // One for each of its kinds of outlines in the library, all of which are places.
  override computeBounds(outline: never): void {
    this.own.clipExtent(null);
    const known = fitted((outline as { features: Outline }).features);
    const isOverTiles = (this.options as unknown as { overTiles?: boolean }).overTiles === true;
    const library = this as unknown as { outlineBounds: Fitted | null };
    const before = known.get(isOverTiles);
    if (before) library.outlineBounds = before;
    else {
      super.computeBounds(outline);
      known.set(isOverTiles, library.outlineBounds!);
    }
  }

  private get own(): GeoProjection {
    return (this as unknown as { projection: GeoProjection }).projection;
  }

  override updateBounds(): boolean {
    const isOther = super.updateBounds();
    const { view } = this.options as unknown as { view?: MapView };
    const projection = this.own;
    const { left, right, top, bottom } = this.chart.chartArea;
    if (view && (view.zoom !== 1 || view.centre)) {
      const [x, y] = [(left + right) / 2, (top + bottom) / 2];
      // Without a place of its own the middle stays where it is.
      const centre = view.centre ?? projection.invert?.([x, y]) ?? [0, 0];
      projection.scale(projection.scale() * view.zoom);
      const [atX, atY] = projection([centre[0], centre[1]]) ?? [x, y];
      const [moveX, moveY] = projection.translate();
      projection.translate([moveX + x - atX, moveY + y - atY]);
    }
    projection.clipExtent([
      [left - BESIDE, top - BESIDE],
      [right + BESIDE, bottom + BESIDE],
    ]);
    return isOther || view?.zoom !== 1;
  }
}
