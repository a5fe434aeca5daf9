import { ProjectionScale } from 'chartjs-chart-geo';
import { geoArea, geoBounds, geoConicEqualArea, geoEqualEarth, geoMercator, type GeoProjection } from 'd3-geo';
import type { Feature, Geometry } from 'geojson';
import type { MapView } from '../drawing.ts';
import type { Shape } from './place-shapes.ts';

/** The largest piece of a place, for the part of the world that is shown. */
export function mainland(shape: Shape): Shape {
  const { geometry } = shape;
  if (geometry.type !== 'MultiPolygon') return shape;
  const pieces = geometry.coordinates.map((coordinates) => ({ type: 'Polygon' as const, coordinates }));
  return { ...shape, geometry: pieces.reduce((largest, piece) => (geoArea(piece) > geoArea(largest) ? piece : largest)) };
}

/** Wider parts of the world, in degrees, are shown as the whole world is. */
const WIDEST = 150;

/** How wide the part of the world is that holds some places, in degrees of longitude. */
export function widthOf(places: readonly Feature<Geometry>[]): number {
  if (places.length === 0) return 360;
  const [[west], [east]] = geoBounds({ type: 'FeatureCollection', features: [...places] });
  return Math.max(1, east >= west ? east - west : east - west + 360);
}

/**
 * A projection that keeps areas: turned to what is shown, with the parallels that suit it. Over tiles it is theirs, which keeps
 * directions.
 */
export function projectionOf(places: readonly Feature<Geometry>[], overTiles: boolean): GeoProjection {
  if (overTiles) return geoMercator();
  if (places.length === 0) return geoEqualEarth();
  const [[west, south], [, north]] = geoBounds({ type: 'FeatureCollection', features: [...places] });
  const width = widthOf(places);
  if (width > WIDEST || (south < 0 && north > 0)) return geoEqualEarth();
  const sixth = (north - south) / 6;
  return geoConicEqualArea()
    .parallels([south + sixth, north - sixth])
    .rotate([-(west + width / 2), 0]);
}

/** How far places are drawn beyond what is shown, in pixels. */
const BESIDE = 8;

/** A projection that a reader may have come nearer to: it fits the data first, and is then enlarged around a place. */
export class ViewedProjection extends ProjectionScale {
  static override readonly id = 'viewed' as never;

  // One for each of its kinds of outlines in the library, all of which are places.
  override computeBounds(outline: never): void {
    this.own.clipExtent(null);
    super.computeBounds(outline);
  }

  private get own(): GeoProjection {
    return (this as unknown as { projection: GeoProjection }).projection;
  }

  override updateBounds(): boolean {
    const isOther = super.updateBounds();
    const { view } = this.options as unknown as { view?: MapView };
    if (!view || (view.zoom === 1 && !view.centre)) return isOther;
    const projection = this.own;
    const { left, right, top, bottom } = this.chart.chartArea;
    const [x, y] = [(left + right) / 2, (top + bottom) / 2];
    // Without a place of its own the middle stays where it is.
    const centre = view.centre ?? projection.invert?.([x, y]) ?? [0, 0];
    projection.scale(projection.scale() * view.zoom);
    const [atX, atY] = projection([centre[0], centre[1]]) ?? [x, y];
    const [moveX, moveY] = projection.translate();
    projection.translate([moveX + x - atX, moveY + y - atY]);
    // Each place is drawn on a canvas of its own: one of a whole country, that near, would be larger than any screen.
    projection.clipExtent([
      [left - BESIDE, top - BESIDE],
      [right + BESIDE, bottom + BESIDE],
    ]);
    return true;
  }
}
