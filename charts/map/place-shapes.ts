import { nameKey, shapesByName, type PlaceShape, type Shapes } from '@bold-compass/core/shapes';
import { geoArea } from 'd3-geo';
import type { Feature, Geometry } from 'geojson';

export type Shape = Feature<Geometry, { name: string }>;

/** The places of a map: all that is drawn, and those that members are. */
export interface PlaceShapes {
  all: readonly Shape[];
  /** The shape of a member, by its label or by itself; undefined where there is none. */
  shapeOf(label: string, member: string | null): Shape | undefined;
}

const HALF_OF_THE_WORLD = 2 * Math.PI;

/** A ring the other way round, where it holds all the world but its place: files differ in which way rings go. */
function turned(geometry: Geometry): Geometry {
  const rings = (polygon: number[][][]): number[][][] =>
    geoArea({ type: 'Polygon', coordinates: polygon }) > HALF_OF_THE_WORLD ? polygon.map((ring) => [...ring].reverse()) : polygon;
  if (geometry.type === 'Polygon') return { ...geometry, coordinates: rings(geometry.coordinates) };
  return geometry.type === 'MultiPolygon' ? { ...geometry, coordinates: geometry.coordinates.map(rings) } : geometry;
}

/** Own shapes, each known by what a property names it. */
export function ownShapes(file: Shapes, property: string): PlaceShapes {
  const drawn = new Map(
    file.features.map((one): [PlaceShape, Shape] => {
      const geometry = turned(one.geometry as unknown as Geometry);
      return [one, { type: 'Feature', geometry, properties: { name: String(one.properties[property] ?? '') } }];
    }),
  );
  const named = shapesByName(file, property);
  const shapeNamed = (name: string): Shape | undefined => {
    const found = named.get(nameKey(name));
    return found && drawn.get(found);
  };
  return { all: [...drawn.values()], shapeOf: (label, member) => shapeNamed(label) ?? (member === null ? undefined : shapeNamed(member)) };
}
