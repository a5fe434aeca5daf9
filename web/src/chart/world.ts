import type { Feature, Geometry } from 'geojson';
import countries from 'i18n-iso-countries';
import english from 'i18n-iso-countries/langs/en.json';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';
import atlas from 'world-atlas/countries-50m.json';

countries.registerLocale(english);

export type Shape = Feature<Geometry, { name: string }>;

/** The countries of the world: Natural Earth's public-domain shapes at 1 : 50 million. */
const topology = atlas as unknown as Topology<{ countries: GeometryCollection<{ name: string }> }>;
export const WORLD: readonly Shape[] = feature(topology, topology.objects.countries).features;

/** Known by their numbers of ISO 3166-1; some places that have none, by their names alone. */
const byNumber = new Map(WORLD.map((shape) => [String(shape.id ?? ''), shape]));
const byName = new Map(WORLD.map((shape) => [shape.properties.name.toLowerCase(), shape]));

/** The shape of a country by its English name, or one of its codes of ISO 3166-1; undefined for what is none. */
export function shapeOf(name: string): Shape | undefined {
  const own = byName.get(name.trim().toLowerCase());
  if (own) return own;
  const code = countries.toAlpha2(name.trim().toUpperCase()) ?? countries.getAlpha2Code(name.trim(), 'en');
  return code === undefined ? undefined : byNumber.get(countries.alpha2ToNumeric(code) ?? '');
}
