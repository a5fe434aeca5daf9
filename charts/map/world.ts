import { nameKey } from '@bold-compass/core/shapes';
import countries from 'i18n-iso-countries';
import english from 'i18n-iso-countries/langs/en.json';
import { feature } from 'topojson-client';
import type { GeometryCollection, Topology } from 'topojson-specification';
import atlas from 'world-atlas/countries-50m.json';
import type { PlaceShapes } from './place-shapes.ts';

countries.registerLocale(english);

/** The countries of the world: Natural Earth's public-domain shapes at 1 : 50 million. */
const topology = atlas as unknown as Topology<{ countries: GeometryCollection<{ name: string }> }>;
const all = feature(topology, topology.objects.countries).features;

/** Known by their numbers of ISO 3166-1; some places that have none, by their names alone. */
const byNumber = new Map(all.map((shape) => [String(shape.id ?? ''), shape]));
const byName = new Map(all.map((shape) => [nameKey(shape.properties.name), shape]));

/** Countries by their English names, or their codes of ISO 3166-1. */
export const WORLD: PlaceShapes = {
  all,
  shapeOf(name) {
    const own = byName.get(nameKey(name));
    if (own) return own;
    const code = countries.toAlpha2(name.trim().toUpperCase()) ?? countries.getAlpha2Code(name.trim(), 'en');
    return code === undefined ? undefined : byNumber.get(countries.alpha2ToNumeric(code) ?? '');
  },
};
