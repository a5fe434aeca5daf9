import { parseIsoDate, type Day } from '@bold-compass/core/calendar';
import { CITY_PLACES } from './places.ts';
import { randomFrom } from './random.ts';

/** The day the company's calendar starts, and the demo's today. */
export const FIRST_DAY = parseIsoDate('2023-01-01')!;
export const TODAY = parseIsoDate('2026-10-31')!;

interface City {
  region: string;
  country: string;
  city: string;
  /** How much is sold there, relative to the others. */
  size: number;
}

const REGIONS: Record<string, Record<string, Record<string, number>>> = {
  Nordic: {
    Denmark: { Copenhagen: 9, Aarhus: 5, Odense: 3 },
    Finland: { Helsinki: 7, Tampere: 3, Turku: 2 },
    Norway: { Oslo: 7, Bergen: 4, Trondheim: 3 },
    Sweden: { Stockholm: 10, Gothenburg: 6, Malmö: 4, Uppsala: 3 },
  },
  Atlantic: {
    Belgium: { Brussels: 6, Ghent: 4 },
    France: { Paris: 14, Lyon: 7, Marseille: 5, Nantes: 4, Toulouse: 4 },
    Ireland: { Cork: 2, Dublin: 5 },
    Netherlands: { Amsterdam: 8, Rotterdam: 5, Utrecht: 4 },
    'United Kingdom': { Bristol: 4, Edinburgh: 5, London: 14, Manchester: 7 },
  },
  'Alpine and Danube': {
    Austria: { Graz: 3, Salzburg: 4, Vienna: 11 },
    Czechia: { Brno: 3, Prague: 6 },
    Germany: { Berlin: 11, Cologne: 6, Hamburg: 8, Leipzig: 5, Munich: 9 },
    Hungary: { Budapest: 5, Szeged: 2 },
    Poland: { Kraków: 3, Warsaw: 6, Wrocław: 3 },
    Switzerland: { Geneva: 5, Zurich: 7 },
  },
  Mediterranean: {
    Greece: { Athens: 5, Patras: 1, Thessaloniki: 2 },
    Italy: { Bologna: 4, Milan: 9, Naples: 4, Rome: 8, Turin: 4 },
    Portugal: { Lisbon: 5, Porto: 4 },
    Spain: { Barcelona: 8, Madrid: 9, Seville: 3, Valencia: 4 },
  },
};

export interface Showroom extends City {
  id: number;
  name: string;
  opened: Day;
  /** Last day of business; null while it is open. */
  closed: Day | null;
  /** In degrees. */
  latitude: number;
  longitude: number;
}

/** How far a showroom lies from the middle of its city, in degrees. */
const OFF_CENTRE = 0.011;
const SHOWROOMS = 110;
const PLACES = [
  'Old Town',
  'Harbour',
  'Market Hall',
  'Station Arcade',
  'Conservatory',
  'Riverside',
  'Garden Row',
  'Opera Corner',
  'Mill Yard',
  'North Gate',
];

function cities(): City[] {
  return Object.entries(REGIONS).flatMap(([region, countries]) =>
    Object.entries(countries).flatMap(([country, sizes]) => Object.entries(sizes).map(([city, size]) => ({ region, country, city, size }))),
  );
}

/** All showrooms: two in most cities, one in the smallest; one opened in 2024, one closed in 2025. */
export function showrooms(): Showroom[] {
  const random = randomFrom(11);
  const places = cities();
  const single = [...places].sort((a, b) => a.size - b.size).slice(0, places.length * 2 - SHOWROOMS);
  const made: Showroom[] = [];
  for (const place of places) {
    const count = single.includes(place) ? 1 : 2;
    const first = random.below(PLACES.length);
    for (let index = 0; index < count; index++) {
      const name = `${place.city} ${PLACES[(first + index * 3) % PLACES.length]}`;
      made.push({
        ...place,
        id: 101 + made.length,
        name,
        size: (place.size / count) * (0.8 + 0.4 * random.next()),
        opened: FIRST_DAY,
        closed: null,
        // Made up: the first south-west of the middle of its city, the second north-east.
        latitude: CITY_PLACES[place.city][0] + OFF_CENTRE * (2 * index - 1),
        longitude: CITY_PLACES[place.city][1] + OFF_CENTRE * (2 * index - 1),
      });
    }
  }
  const opening = made.find((showroom) => showroom.city === 'Kraków')!;
  opening.opened = parseIsoDate('2024-04-15')!;
  const closing = made.findLast((showroom) => showroom.city === 'Naples')!;
  closing.closed = parseIsoDate('2025-06-28')!;
  return made;
}
