/** Characters of keys are below this: signs, digits and small letters. */
const CHARACTERS = 128;
/** Characters that are compared at once, as digits of one number. */
const AT_ONCE = 4;
/** Up to this many keys are sorted by comparing them. */
const FEW = 24;

/**
 * Sorts texts of characters below 128 as `<` compares them, by their characters (a most-significant-digit radix sort; Knuth,
 * The Art of Computer Programming 3, 5.2.5). Comparing hundreds of thousands of texts two by two takes several times as long.
 * At most 2^24 of them: a number holds their place and four characters, below 2^53. Returns the positions of the texts in
 * order, and calls `tied` with each run of equal ones, as a part of these positions.
 */
export function sortedPositions(keys: readonly string[], tied: (run: Int32Array) => void): Int32Array {
  const positions = new Int32Array(keys.length);
  for (let index = 0; index < positions.length; index++) positions[index] = index;
  if (positions.length > 0) sortFrom(keys, positions, 0, tied);
  return positions;
}

/** The characters of a key from `at` on as one number; the end of a key comes before every character. */
function digits(key: string, at: number): number {
  let number = 0;
  for (let index = at; index < at + AT_ONCE; index++) number = number * CHARACTERS + (index < key.length ? key.charCodeAt(index) : 0);
  return number;
}

/** Where keys that are alike up to `at` differ first, or where the shortest of them ends. */
function firstDifference(keys: readonly string[], positions: Int32Array, at: number): number {
  const sample = keys[positions[0]];
  let end = sample.length;
  for (let k = 1; k < positions.length && end > at; k++) {
    const key = keys[positions[k]];
    let same = at;
    while (same < end && same < key.length && key.charCodeAt(same) === sample.charCodeAt(same)) same++;
    end = same;
  }
  return end;
}

/** Sorts a few keys by comparing them: most runs that are left after some characters are short. */
function sortFew(keys: readonly string[], positions: Int32Array, tied: (run: Int32Array) => void): void {
  for (let k = 1; k < positions.length; k++) {
    const position = positions[k];
    const key = keys[position];
    let at = k;
    for (; at > 0 && keys[positions[at - 1]] > key; at--) positions[at] = positions[at - 1];
    positions[at] = position;
  }
  for (let from = 0; from < positions.length;) {
    let to = from + 1;
    while (to < positions.length && keys[positions[to]] === keys[positions[from]]) to++;
    if (to - from > 1) tied(positions.subarray(from, to));
    from = to;
  }
}

function sortFrom(keys: readonly string[], positions: Int32Array, start: number, tied: (run: Int32Array) => void): void {
  if (positions.length <= FEW) return sortFew(keys, positions, tied);
  const at = firstDifference(keys, positions, start);
  const count = positions.length;
  // A number holds the characters and, below them, the place that the key has now.
  const numbers = new Float64Array(count);
  for (let k = 0; k < count; k++) numbers[k] = digits(keys[positions[k]], at) * count + k;
  numbers.sort();
  const before = positions.slice();
  for (let k = 0; k < count; k++) positions[k] = before[numbers[k] % count];
  for (let from = 0; from < count;) {
    const own = Math.floor(numbers[from] / count);
    let to = from + 1;
    while (to < count && Math.floor(numbers[to] / count) === own) to++;
    if (to - from > 1) {
      const run = positions.subarray(from, to);
      // A last digit of 0 says that the keys have ended: they are equal.
      if (own % CHARACTERS === 0) tied(run);
      else sortFrom(keys, run, at + AT_ONCE, tied);
    }
    from = to;
  }
}
