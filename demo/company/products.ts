import { randomFrom } from './random.ts';

export interface Model {
  id: number;
  line: string;
  family: string;
  name: string;
  listPrice: number;
  cost: number;
  /** How often it is sold, relative to the others. */
  popularity: number;
}

/** Families by line: lowest and highest list price, popularity. */
const LINES: Record<string, Record<string, [number, number, number]>> = {
  Strings: { Violins: [180, 6400, 9], Violas: [260, 5200, 4], Cellos: [900, 9800, 4], Guitars: [150, 2900, 12] },
  Woodwind: { Flutes: [220, 4100, 7], Clarinets: [260, 3900, 7], Saxophones: [480, 4800, 7], Recorders: [18, 240, 9] },
  Brass: { Trumpets: [240, 3200, 7], Trombones: [320, 3600, 4], Horns: [680, 5900, 3], Tubas: [1400, 8200, 2] },
  Keys: {
    'Upright pianos': [3400, 11800, 3],
    'Grand pianos': [9800, 34000, 1],
    'Stage pianos': [620, 2900, 6],
    Accordions: [480, 5200, 2],
  },
  Percussion: { 'Drum kits': [420, 3600, 4], 'Hand drums': [60, 640, 7], Marimbas: [1200, 7800, 1], Cymbals: [70, 690, 6] },
  'Care and accessories': { Cases: [40, 420, 9], Strings: [6, 90, 14], Reeds: [9, 60, 13], 'Care kits': [12, 85, 11] },
};

const WOODS = ['Alder', 'Birch', 'Cedar', 'Elm', 'Fir', 'Hazel', 'Juniper', 'Larch', 'Maple', 'Rowan', 'Willow', 'Yew'];
const MODELS = 190;
/** The model that nobody has bought yet. */
export const UNSOLD = 'Yew Tubas 800';

const rounded = (price: number): number =>
  price < 50 ? Math.round(price * 2) / 2 : price < 500 ? Math.round(price) : Math.round(price / 10) * 10;

/** The range: 24 families, 190 models, each with list price and cost. */
export function models(): Model[] {
  const random = randomFrom(23);
  const families = Object.entries(LINES).flatMap(([line, entries]) =>
    Object.entries(entries).map(([family, figures]) => ({ line, family, figures })),
  );
  const made: Model[] = [];
  families.forEach(({ line, family, figures: [low, high, popularity] }, index) => {
    const count = Math.floor(MODELS / families.length) + (index < MODELS % families.length ? 1 : 0);
    for (let step = 0; step < count; step++) {
      const listPrice = rounded(low * (high / low) ** (step / (count - 1)) * (0.94 + 0.12 * random.next()));
      const cost = Math.round(listPrice * (0.46 + 0.14 * random.next()) * 100) / 100;
      const name = `${WOODS[(index + step * 5) % WOODS.length]} ${family} ${(step + 1) * 100}`;
      made.push({
        id: 5001 + made.length,
        line,
        family: family === 'Strings' ? 'String sets' : family,
        name,
        listPrice,
        cost,
        popularity: (popularity / count) * (1.7 - step / count),
      });
    }
  });
  const unsold = made.findLast((model) => model.family === 'Tubas')!;
  unsold.name = UNSOLD;
  unsold.popularity = 0;
  return made;
}
