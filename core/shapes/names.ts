import type { PlaceShape, Shapes } from './geojson.ts';

/** Names are the same whatever their case, and what stands around them. */
export const nameKey = (name: string): string => name.normalize('NFC').trim().toLocaleLowerCase('en');

const textOf = ({ properties }: PlaceShape, property: string): string | null => {
  const value = properties[property];
  return typeof value === 'string' || typeof value === 'number' ? String(value) : null;
};

/**
 * The properties that name shapes, each with how many of some names it has: those that have most come first, then those that
 * tell most shapes apart.
 */
export function propertiesOf({ features }: Shapes, names: readonly string[]): { property: string; matches: number }[] {
  const wanted = new Set(names.map(nameKey));
  const properties = [...new Set(features.flatMap((feature) => Object.keys(feature.properties)))];
  return properties
    .map((property) => {
      const found = new Set(features.flatMap((feature) => textOf(feature, property) ?? []).map(nameKey));
      return { property, matches: [...found].filter((name) => wanted.has(name)).length, different: found.size };
    })
    .filter(({ different }) => different > 0)
    .sort((a, b) => b.matches - a.matches || b.different - a.different)
    .map(({ property, matches }) => ({ property, matches }));
}

/** Shapes by what a property names them; of several with one name the first. */
export function shapesByName({ features }: Shapes, property: string): Map<string, PlaceShape> {
  const byName = new Map<string, PlaceShape>();
  for (const feature of features) {
    const name = textOf(feature, property);
    if (name !== null && !byName.has(nameKey(name))) byName.set(nameKey(name), feature);
  }
  return byName;
}

/** The same outlines; only those that may be known keep their name, and nothing but that. */
export function withoutNames(shapes: Shapes, property: string, mayKnow: (name: string) => boolean): Shapes {
  return {
    ...shapes,
    features: shapes.features.map((feature) => {
      const name = textOf(feature, property);
      return { ...feature, properties: name !== null && mayKnow(name) ? { [property]: name } : {} };
    }),
  };
}
