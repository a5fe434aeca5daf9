/** A seeded stream of random numbers: the same seed gives the same company. */
export interface Random {
  /** 0 inclusive to 1 exclusive. */
  next(): number;
  /** Whole number from 0 to below `count`. */
  below(count: number): number;
  pick<Item>(items: readonly Item[]): Item;
  /** About normal, mean 0, deviation 1. */
  normal(): number;
}

/** Mulberry32, a public-domain 32-bit generator by Tommy Ettinger. */
export function randomFrom(seed: number): Random {
  let state = seed >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = state;
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
  const below = (count: number): number => Math.floor(next() * count);
  return {
    next,
    below,
    pick: (items) => items[below(items.length)],
    // Sum of twelve uniform numbers (Irwin–Hall), good enough for a made-up company.
    normal: () => Array.from({ length: 12 }, next).reduce((sum, value) => sum + value, -6),
  };
}

/** Draws indexes in proportion to weights. */
export function weightedPicker(weights: readonly number[]): (random: Random) => number {
  const sums: number[] = [];
  let sum = 0;
  for (const weight of weights) sums.push((sum += weight));
  return (random) => {
    const at = random.next() * sum;
    let [low, high] = [0, sums.length - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (sums[middle] > at) high = middle;
      else low = middle + 1;
    }
    return low;
  };
}
