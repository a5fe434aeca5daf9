/**
 * The loops that every record passes through. They are plain functions of typed arrays at the top of a module, so that
 * the engine compiles each of them once and keeps it; loops inside closures are compiled anew with every query.
 */

/** One more record in each group: `records[g]++`. */
export function countGroups(records: Float64Array, groups: Int32Array, count: number): void {
  for (let k = 0; k < count; k++) records[groups[k]] += 1;
}

/** Adds chosen records: `sum[g] += values[record]`. */
export function sumChosen(sum: Float64Array, groups: Int32Array, values: Int32Array | Float64Array, rows: Int32Array, count: number): void {
  for (let k = 0; k < count; k++) sum[groups[k]] += values[rows[k]];
}

/** Values of chosen records, one after another: `block[k] = values[rows[k]]`. */
export function take(block: Float64Array, values: Int32Array | Float64Array, rows: Int32Array, count: number): void {
  for (let k = 0; k < count; k++) block[k] = values[rows[k]];
}

/**
 * Counts the records from `start` on and adds a column of them up; count and sum of a group stand beside each other. Records that
 * are left out (-1) count in a place of their own before the first group: that costs less than to pass over them.
 */
export function tallyOne(figures: Float64Array, groups: Int32Array, one: Int32Array | Float64Array, start: number, count: number): void {
  for (let k = 0; k < count; k++) {
    const at = groups[k] * 2 + 2;
    figures[at] += 1;
    figures[at + 1] += one[start + k];
  }
}

/** The same for two columns. */
export function tallyTwo(
  figures: Float64Array,
  groups: Int32Array,
  one: Int32Array | Float64Array,
  two: Int32Array | Float64Array,
  start: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const at = groups[k] * 3 + 3;
    figures[at] += 1;
    figures[at + 1] += one[start + k];
    figures[at + 2] += two[start + k];
  }
}

/** The same for three columns. */
export function tallyThree(
  figures: Float64Array,
  groups: Int32Array,
  one: Int32Array | Float64Array,
  two: Int32Array | Float64Array,
  three: Int32Array | Float64Array,
  start: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const at = groups[k] * 4 + 4;
    figures[at] += 1;
    figures[at + 1] += one[start + k];
    figures[at + 2] += two[start + k];
    figures[at + 3] += three[start + k];
  }
}

/** Adds values that were calculated for a block. */
export function sumBlock(sum: Float64Array, groups: Int32Array, values: Float64Array, count: number): void {
  for (let k = 0; k < count; k++) sum[groups[k]] += values[k];
}

/** The share of the first part in the group numbers of a block. */
export function lookUp(groups: Int32Array, local: Int32Array, reference: Int32Array, from: number, count: number): void {
  for (let k = 0; k < count; k++) groups[k] = local[reference[from + k]];
}

/**
 * The share of a further part. What either part leaves out (-1) stays left out, however many parts there are:
 * `groups[k] = groups[k] < 0 || share < 0 ? -1 : groups[k] + share`, without a branch.
 */
export function lookUpMore(groups: Int32Array, local: Int32Array, reference: Int32Array, from: number, count: number): void {
  for (let k = 0; k < count; k++) {
    const share = local[reference[from + k]];
    groups[k] = (groups[k] + share) | ((groups[k] | share) >> 31);
  }
}

/** The shares of the first two parts at once. */
export function lookUpTwo(
  groups: Int32Array,
  local: Int32Array,
  reference: Int32Array,
  local2: Int32Array,
  reference2: Int32Array,
  from: number,
  count: number,
): void {
  for (let k = 0; k < count; k++) {
    const share = local[reference[from + k]];
    const share2 = local2[reference2[from + k]];
    groups[k] = (share + share2) | ((share | share2) >> 31);
  }
}

/**
 * Moves the groups of what is not left out (-1) together and writes which records, counted from `from` on, these are; returns
 * how many. Without a branch: what is left out follows no pattern that a processor could foresee.
 */
export function keepSelected(groups: Int32Array, rows: Int32Array, from: number, count: number): number {
  let kept = 0;
  for (let k = 0; k < count; k++) {
    const group = groups[k];
    groups[kept] = group;
    rows[kept] = from + k;
    kept += ~group >>> 31;
  }
  return kept;
}

/** Numbers from `from` on. */
export function countUp(rows: Int32Array, from: number, count: number): void {
  for (let k = 0; k < count; k++) rows[k] = from + k;
}

/** Adds figures of finer groups up: `target[groupOf[k]] += source[k]`. */
export function foldSum(target: Float64Array, groupOf: Int32Array, source: Float64Array): void {
  for (let k = 0; k < source.length; k++) target[groupOf[k]] += source[k];
}

/** The least of finer groups. */
export function foldLeast(target: Float64Array, groupOf: Int32Array, source: Float64Array): void {
  for (let k = 0; k < source.length; k++) if (source[k] < target[groupOf[k]]) target[groupOf[k]] = source[k];
}

/** The most of finer groups. */
export function foldMost(target: Float64Array, groupOf: Int32Array, source: Float64Array): void {
  for (let k = 0; k < source.length; k++) if (source[k] > target[groupOf[k]]) target[groupOf[k]] = source[k];
}

/** Figures of chosen groups, one after another: `target[k] = source[slots[k]]`. */
export function gather(target: Float64Array, source: Float64Array, slots: Int32Array): void {
  for (let k = 0; k < target.length; k++) target[k] = source[slots[k]];
}

/** One more digit of the combined numbers: `keys[k] = keys[k] * size + local[locals[k]]`. */
export function addDigit(keys: Float64Array, size: number, local: Int32Array, locals: Int32Array): void {
  for (let k = 0; k < keys.length; k++) keys[k] = keys[k] * size + local[locals[k]];
}

/**
 * Numbers distinct keys in order of first use, by a table of `possible` entries. Writes each key's number to `group` and
 * the position of each first use to `first`; returns how many there are.
 */
export function numberKeys(keys: Float64Array, possible: number, group: Int32Array, first: Int32Array): number {
  // Numbers start at 1 here, so that 0 says "not seen yet".
  const seen = new Int32Array(possible);
  let count = 0;
  for (let k = 0; k < keys.length; k++) {
    let number = seen[keys[k]];
    if (number === 0) {
      first[count] = k;
      number = seen[keys[k]] = ++count;
    }
    group[k] = number - 1;
  }
  return count;
}

/** Whether a table of all possible keys costs less than a map of those that occur. */
export const isTableWorth = (possible: number, occurring: number): boolean => possible <= Math.max(1 << 16, occurring * 8);

/**
 * Numbers the pairs that rows make of the number they have so far (below `size`) and a code, in order of first use. Writes
 * each row's new number to `local` and the row of each first use to `first`; returns how many there are.
 */
export function numberPairs(
  codes: Int32Array,
  rows: Int32Array,
  count: number,
  local: Int32Array,
  first: Int32Array,
  size: number,
): number {
  let most = 0;
  for (let k = 0; k < count; k++) if (codes[rows[k]] > most) most = codes[rows[k]];
  let numbers = 0;
  if (isTableWorth((most + 1) * size, count)) {
    // Numbers start at 1 here, so that 0 says "not seen yet".
    const seen = new Int32Array((most + 1) * size);
    for (let k = 0; k < count; k++) {
      const row = rows[k];
      const pair = codes[row] * size + local[row];
      if (seen[pair] === 0) {
        first[numbers] = row;
        seen[pair] = ++numbers;
      }
      local[row] = seen[pair] - 1;
    }
    return numbers;
  }
  const seen = new Map<number, number>();
  for (let k = 0; k < count; k++) {
    const row = rows[k];
    const pair = codes[row] * size + local[row];
    let number = seen.get(pair);
    if (number === undefined) {
      number = numbers++;
      seen.set(pair, number);
      first[number] = row;
    }
    local[row] = number;
  }
  return numbers;
}

/** The same for more possible keys than a table should have. */
export function numberSparseKeys(keys: Float64Array, group: Int32Array, first: Int32Array): number {
  const seen = new Map<number, number>();
  for (let k = 0; k < keys.length; k++) {
    let number = seen.get(keys[k]);
    if (number === undefined) {
      number = seen.size;
      first[number] = k;
      seen.set(keys[k], number);
    }
    group[k] = number;
  }
  return seen.size;
}

/** The member code of each group, told from the finer group that came first in it. */
export function codesOfFirst(codes: Int32Array, locals: Int32Array, first: Int32Array, count: number): Int32Array {
  const key = new Int32Array(count);
  for (let number = 0; number < count; number++) key[number] = codes[locals[first[number]]];
  return key;
}
