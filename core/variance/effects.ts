/** A member in two periods: what was taken for it, and how much of it there was. */
export interface Sold {
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

const isThere = ({ quantity }: Sold['before']): boolean => quantity > 0;

/**
 * The difference of two periods by price, volume and mix, as price-volume-mix analysis has it (common practice, no source):
 * of members in both periods, price is Σ q₁(p₁ − p₀), volume (Q₁ − Q₀) · V₀ / Q₀, and mix Σ q₁p₀ − Q₁ · V₀ / Q₀. Members of one
 * period only have no price to compare: they stand apart.
 */
export function effectsOf(members: readonly Sold[]): Effects {
  const both = members.filter(({ before, after }) => isThere(before) && isThere(after));
  const sum = (of: (member: Sold) => number, from = both): number => from.reduce((total, member) => total + of(member), 0);
  const [before, after] = [sum((member) => member.before.value), sum((member) => member.after.value)];
  const [first, second] = [sum((member) => member.before.quantity), sum((member) => member.after.quantity)];
  const atOldPrices = sum((member) => (member.after.quantity * member.before.value) / member.before.quantity);
  const average = first > 0 ? before / first : 0;
  return {
    price: after - atOldPrices,
    volume: (second - first) * average,
    mix: atOldPrices - second * average,
    gained: sum(
      (member) => member.after.value - member.before.value,
      members.filter(({ before: old }) => !isThere(old)),
    ),
    lost: sum(
      (member) => member.after.value - member.before.value,
      members.filter(({ before: old, after: now }) => isThere(old) && !isThere(now)),
    ),
  };
}
