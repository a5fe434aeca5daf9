/** Longitude and latitude, in degrees; what comes after them, such as a height, is not read. */
export type Position = readonly [number, number, ...number[]];

export type Geometry =
  | { type: 'Polygon'; coordinates: readonly (readonly Position[])[] }
  | { type: 'MultiPolygon'; coordinates: readonly (readonly (readonly Position[])[])[] };

/** A place with its outline. */
export interface PlaceShape {
  type: 'Feature';
  properties: Readonly<Record<string, unknown>>;
  geometry: Geometry;
}

/** Outlines of places, as GeoJSON has them (RFC 7946): a collection of features that are polygons. */
export interface Shapes {
  type: 'FeatureCollection';
  features: readonly PlaceShape[];
}

/** More shapes than these, or positions along their outlines, are not drawn in one map. */
export const MOST_SHAPES = 5_000;
const MOST_POSITIONS = 600_000;

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);

/** Why something is no file of shapes, told at what does not hold. */
class Unsound extends Error {}

function checkPosition(value: unknown, at: string): void {
  const [longitude, latitude] = Array.isArray(value) ? (value as unknown[]) : [];
  if (typeof longitude !== 'number' || typeof latitude !== 'number') throw new Unsound(`${at} has a position that is no pair of numbers.`);
  if (Math.abs(longitude) > 180 || Math.abs(latitude) > 90)
    throw new Unsound(
      `${at} has a position outside of longitudes −180 to 180 and latitudes −90 to 90: the file is in another coordinate system. Save it in WGS 84.`,
    );
}

/** Checks rings; returns how many positions they have. */
function checkPolygon(value: unknown, at: string): number {
  if (!Array.isArray(value) || value.length === 0) throw new Unsound(`${at} is a polygon without a ring.`);
  let count = 0;
  for (const ring of value as unknown[]) {
    if (!Array.isArray(ring) || ring.length < 4) throw new Unsound(`${at} has a ring of fewer than four positions.`);
    for (const position of ring as unknown[]) checkPosition(position, at);
    count += ring.length;
  }
  return count;
}

function checkFeature(value: unknown, index: number): number {
  const at = `Shape ${index + 1}`;
  if (!isRecord(value) || value.type !== 'Feature') throw new Unsound(`${at} is no feature.`);
  if (value.properties !== null && value.properties !== undefined && !isRecord(value.properties))
    throw new Unsound(`${at} has properties that are no names with values.`);
  const { geometry } = value;
  if (!isRecord(geometry) || (geometry.type !== 'Polygon' && geometry.type !== 'MultiPolygon'))
    throw new Unsound(`${at} is no polygon. A map by colour needs areas: save these only.`);
  if (geometry.type === 'Polygon') return checkPolygon(geometry.coordinates, at);
  if (!Array.isArray(geometry.coordinates)) throw new Unsound(`${at} has no polygons.`);
  return (geometry.coordinates as unknown[]).reduce<number>((sum, polygon) => sum + checkPolygon(polygon, at), 0);
}

/** The properties that may name a shape: nested ones do not. */
const plainProperties = (properties: PlaceShape['properties']): PlaceShape['properties'] =>
  Object.fromEntries(Object.entries(properties).filter(([, value]) => typeof value !== 'object' || value === null));

/** Longitudes and latitudes alone. */
function plainGeometry(geometry: Geometry): Geometry {
  const ringsOf = (rings: readonly (readonly Position[])[]): Position[][] => rings.map((ring) => ring.map(([x, y]): Position => [x, y]));
  return geometry.type === 'Polygon'
    ? { type: 'Polygon', coordinates: ringsOf(geometry.coordinates) }
    : { type: 'MultiPolygon', coordinates: geometry.coordinates.map(ringsOf) };
}

/** Reads a file of shapes, or says why it is none. */
export function parseShapes(text: string): { shapes: Shapes } | { problem: string } {
  let file: unknown;
  try {
    file = JSON.parse(text);
  } catch {
    return { problem: 'This file is no GeoJSON: it cannot be read as JSON.' };
  }
  if (!isRecord(file) || file.type !== 'FeatureCollection' || !Array.isArray(file.features))
    return { problem: 'This file is no GeoJSON of shapes: it is no collection of features.' };
  const features = file.features as unknown[];
  if (features.length === 0) return { problem: 'This file has no shapes.' };
  if (features.length > MOST_SHAPES) return { problem: `This file has ${features.length} shapes; a map takes at most ${MOST_SHAPES}.` };
  try {
    const positions = features.reduce<number>((sum, feature, index) => sum + checkFeature(feature, index), 0);
    if (positions > MOST_POSITIONS)
      return { problem: `The outlines have ${positions} positions; a map takes at most ${MOST_POSITIONS}. Simplify them.` };
  } catch (error) {
    if (error instanceof Unsound) return { problem: error.message };
    throw error;
  }
  const sound = features as PlaceShape[];
  return {
    shapes: {
      type: 'FeatureCollection',
      // What a map does not read does not travel with it.
      features: sound.map(({ properties, geometry }) => ({
        ...{ type: 'Feature', properties: plainProperties(properties ?? {}) },
        geometry: plainGeometry(geometry),
      })),
    },
  };
}
