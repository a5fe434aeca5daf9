import { randomFrom, type Random } from './random.ts';
import type { Showroom } from './territory.ts';

const GIVEN =
  'Ada Aldo Alma Anouk Arne Bela Bruno Carla Celia Clara Dario Edda Elin Emil Enzo Fenna Finn Greta Hanna Hugo Ida Ilse Ines Ivo Jana Jonas Jule Karl Katya Lars Lena Leo Lucia Luka Mael Marta Mina Nils Nora Olga Oskar Paula Petra Pia Rafa Remy Rosa Runa Sara Selma Sven Tilda Tomas Ulla Vera Viggo Willem Ylva Zoe'.split(
    ' ',
  );
const FAMILY =
  'Abelsund Ardenne Bergholt Brandvik Calloway Carrasco Corvane Dahlmark Delorme Ekström Falkner Ferrante Gallow Grünthal Haldane Holmqvist Ibarra Jarnvik Kestrel Kovarik Lindmarsh Lombardo Marchetti Mirande Nordlund Novelli Oakhurst Orsini Palmgren Penhale Quintero Rask Rosvall Santoro Silvane Sorel Tamsin Torvald Ulvang Valmont Vesterby Wexley Winther Yardley Zeller'.split(
    ' ',
  );

const inventedName = (random: Random): string => `${random.pick(GIVEN)} ${random.pick(FAMILY)}`;

export interface Employee {
  id: number;
  name: string;
  title: string;
  /** Employee reported to; null for the director. */
  manager: number | null;
  showroom: number | null;
}

const EMPLOYEES = 420;

/** The reporting line, four to six levels deep: director, regional leads, country leads, showroom leads, advisers. */
export function employees(rooms: Showroom[]): Employee[] {
  const random = randomFrom(37);
  const made: Employee[] = [];
  const add = (title: string, manager: number | null, showroom: number | null = null): number => {
    const id = 1 + made.length;
    made.push({ id, name: inventedName(random), title, manager, showroom });
    return id;
  };
  const director = add('Managing director', null);
  const regions = new Map<string, number>();
  const countries = new Map<string, number>();
  const leads: { room: Showroom; lead: number }[] = [];
  for (const room of rooms) {
    if (!regions.has(room.region)) regions.set(room.region, add(`Regional lead, ${room.region}`, director));
    if (!countries.has(room.country)) countries.set(room.country, add(`Country lead, ${room.country}`, regions.get(room.region)!));
    leads.push({ room, lead: add(`Showroom lead, ${room.name}`, countries.get(room.country)!, room.id) });
  }
  // Every showroom has two advisers; the busiest get the rest, some of them under a senior adviser.
  for (const { room, lead } of leads) for (let n = 0; n < 2; n++) add('Adviser', lead, room.id);
  const busiest = [...leads].sort((a, b) => b.room.size - a.room.size);
  for (let n = 0; made.length < EMPLOYEES; n++) {
    const { room, lead } = busiest[n % 40];
    const senior = made.findLast((person) => person.title === 'Senior adviser' && person.showroom === room.id);
    add(n < 20 ? 'Senior adviser' : 'Adviser', senior?.id ?? lead, room.id);
  }
  return made;
}

export interface Customer {
  id: number;
  name: string;
  segment: string;
  country: string;
}

const SEGMENTS = ['Household', 'School', 'Ensemble', 'Studio'];
const KINDS: Record<string, string[]> = {
  School: ['Music School', 'Academy', 'Grammar School'],
  Ensemble: ['Chamber Players', 'Wind Band', 'String Quartet'],
  Studio: ['Studios', 'Recording Rooms'],
};
const CUSTOMERS = 12_000;

/** The customers, spread over the countries like the showrooms' sizes; a few have no segment on record. */
export function customers(rooms: Showroom[]): Customer[] {
  const random = randomFrom(41);
  const total = rooms.reduce((sum, room) => sum + room.size, 0);
  const made: Customer[] = [];
  for (const room of rooms) {
    const share = Math.round((room.size / total) * CUSTOMERS);
    for (let n = 0; n < share; n++) {
      const draw = random.next();
      const segment = draw < 0.62 ? 'Household' : draw < 0.8 ? 'School' : draw < 0.93 ? 'Ensemble' : 'Studio';
      const name = segment === 'Household' ? inventedName(random) : `${room.city} ${random.pick(FAMILY)} ${random.pick(KINDS[segment])}`;
      made.push({
        id: 20_001 + made.length,
        name,
        segment: random.next() < 0.006 ? '' : SEGMENTS[SEGMENTS.indexOf(segment)],
        country: room.country,
      });
    }
  }
  return made;
}
