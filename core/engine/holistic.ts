import type { HolisticAggregate } from './aggregates.ts';
import type { CountedValues } from './count.ts';
import type { Memberships } from './roll-up.ts';

/** First place of a value among ascending ones. */
function lowerBound(sorted: Float64Array, value: number): number {
  let [low, high] = [0, sorted.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle] < value) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Whether values are whole numbers so small that their place fits beside them into one number. */
function canPack(values: Float64Array): boolean {
  const most = Number.MAX_SAFE_INTEGER / Math.max(values.length, 1) - 1;
  for (let k = 0; k < values.length; k++) if (!Number.isInteger(values[k]) || Math.abs(values[k]) > most) return false;
  return true;
}

/**
 * Kept values in ascending order with their groups: sorted once, so that the values of every group of every set come in order
 * when they are dealt out one after the other.
 */
export function ascending({ values, groups }: CountedValues): CountedValues {
  const count = values.length;
  const sortedGroups = new Int32Array(count);
  if (canPack(values)) {
    const packed = new Float64Array(count);
    for (let k = 0; k < count; k++) packed[k] = values[k] * count + k;
    packed.sort();
    const sorted = new Float64Array(count);
    for (let place = 0; place < count; place++) {
      const value = Math.floor(packed[place] / count);
      sorted[place] = value;
      sortedGroups[place] = groups[packed[place] - value * count];
    }
    return { values: sorted, groups: sortedGroups };
  }
  const sorted = values.slice().sort();
  const taken = new Int32Array(count);
  for (let k = 0; k < count; k++) {
    const first = lowerBound(sorted, values[k]);
    sortedGroups[first + taken[first]++] = groups[k];
  }
  return { values: sorted, groups: sortedGroups };
}

/** Calls back with every group that each value falls into, value by value. */
function deal({ groups: finestOf }: CountedValues, { finest, groups }: Memberships, visit: (group: number, k: number) => void): void {
  if (!finest) {
    for (let k = 0; k < finestOf.length; k++) visit(groups[finestOf[k]], k);
    return;
  }
  // The finest groups stand in their order, each as often as it is a part of something.
  let most = 0;
  for (let index = 0; index < finest.length; index++) if (finest[index] > most) most = finest[index];
  for (let k = 0; k < finestOf.length; k++) if (finestOf[k] > most) most = finestOf[k];
  const starts = new Int32Array(most + 2);
  for (let index = 0; index < finest.length; index++) starts[finest[index] + 1]++;
  for (let position = 0; position <= most; position++) starts[position + 1] += starts[position];
  for (let k = 0; k < finestOf.length; k++)
    for (let index = starts[finestOf[k]]; index < starts[finestOf[k] + 1]; index++) visit(groups[index], k);
}

/** Works an aggregate out of all values of each group. Values stay in the order in which they are kept. */
export function valuesOfGroups(
  aggregate: HolisticAggregate,
  kept: CountedValues,
  memberships: Memberships,
  size: number,
  fraction: number,
  out: Float64Array,
): void {
  const ends = new Int32Array(size + 1);
  deal(kept, memberships, (group) => ends[group + 1]++);
  for (let group = 0; group < size; group++) ends[group + 1] += ends[group];
  const dealt = new Float64Array(ends[size]);
  const next = ends.slice();
  deal(kept, memberships, (group, k) => {
    dealt[next[group]++] = kept.values[k];
  });
  for (let group = 0; group < size; group++) {
    const [from, to] = [ends[group], ends[group + 1]];
    out[group] = from === to ? aggregate.empty : aggregate.value(dealt.subarray(from, to), fraction);
  }
}
