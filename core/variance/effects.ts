/** A member in two periods: what was taken for it, and how much of it there was. */
export interface ComparedMember {
  before: { value: number; quantity: number };
  after: { value: number; quantity: number };
}

/** The parts of a difference in value. They add up to it. */
export interface Effects {
  /** Other prices, at the quantities of the second period. */
  price: number;
  /** More or less of everything, in the mix and at the prices of the first period. */
  volume: number;
  /** Dearer or cheaper members in the place of others, at the prices of the first period. */
  mix: number;
  /** Members that were not there in the first period. */
  gained: number;
  /** Members that are not there in the second. */
  lost: number;
}

export const EFFECTS = ['price', 'volume', 'mix', 'gained', 'lost'] as const satisfies readonly (keyof Effects)[];

const isThere = ({ quantity }: ComparedMember['before']): boolean => quantity > 0;

const NONE: Effects = { price: 0, volume: 0, mix: 0, gained: 0, lost: 0 };

/**
 * The difference of each member by price, volume and mix, as price-volume-mix analysis has it (common practice, no source): of
 * members in both periods, with P the average price of all of these in the first one, price is q₁(p₁ − p₀), volume (q₁ − q₀)P, and
 * mix (q₁ − q₀)(p₀ − P). Members of one period only have no price to compare: they stand apart. The parts of a member add up to
 * its difference, those of all members to Σ q₁(p₁ − p₀), (Q₁ − Q₀)P and Σ q₁p₀ − Q₁P.
 */
export function memberEffects(members: readonly ComparedMember[]): Effects[] {
  const both = members.filter(({ before, after }) => isThere(before) && isThere(after));
  const [value, quantity] = both.reduce(([v, q], { before }) => [v + before.value, q + before.quantity], [0, 0]);
  const average = quantity > 0 ? value / quantity : 0;
  return members.map(({ before, after }) => {
    const change = after.value - before.value;
    if (!isThere(before)) return { ...NONE, gained: change };
    if (!isThere(after)) return { ...NONE, lost: change };
    const atOldPrice = (after.quantity * before.value) / before.quantity;
    const volume = (after.quantity - before.quantity) * average;
    return { ...NONE, price: after.value - atOldPrice, volume, mix: atOldPrice - before.value - volume };
  });
}

/** The parts of all members together. */
export function sumOfEffects(effects: readonly Effects[]): Effects {
  const sum = { ...NONE };
  for (const own of effects) for (const name of EFFECTS) sum[name] += own[name];
  return sum;
}
