import type { Tally } from './aggregates.ts';
import type { Counted } from './count.ts';
import { numberTuples, type Grouping, type Part } from './grouping.ts';
import { addDigit, codesOfFirst, countUp, foldLeast, foldMost, foldSum, isTableWorth, numberKeys, numberSparseKeys } from './kernels.ts';

/**
 * A grain of an answer: its groups, and how the groups of a finer grain fall into them. Each is made of the smallest finer
 * one that was made before it, since a total of totals costs less than a total of records.
 */
export interface Grain {
  /** Positions of its levels. */
  set: number[];
  finer: Grain | null;
  /** The group that each group of the finer grain falls into. */
  group: Int32Array;
  size: number;
  /** The combination of members in each part of the grouping, of each group. */
  locals: Int32Array[];
  /** Per level: the member code of each group. */
  keys: Int32Array[];
}

/** The grains that sets of levels make, in the order of the sets. */
export function coarserGrains(grouping: Grouping, counted: Counted, sets: number[][]): Grain[] {
  const done: Grain[] = [finestGrain(grouping, counted)];
  const combinations = combinationsOf(grouping.parts);
  const made = new Map<number, Grain>();
  const fromFineToCoarse = sets.map((_, index) => index).sort((a, b) => sets[b].length - sets[a].length);
  for (const index of fromFineToCoarse) {
    const set = sets[index];
    const finer = done
      .filter((grain) => grain.finer === null || set.every((level) => grain.set.includes(level)))
      .reduce((best, grain) => (grain.size < best.size ? grain : best));
    const grain = coarsen(grouping, combinations, finer, set);
    done.push(grain);
    made.set(index, grain);
  }
  return sets.map((_, index) => made.get(index)!);
}

function finestGrain({ parts, strides }: Grouping, { ids }: Counted): Grain {
  const locals = parts.map((part, index) => {
    const own = new Int32Array(ids.length);
    for (let k = 0; k < own.length; k++) own[k] = Math.floor(ids[k] / strides[index]) % part.size;
    return own;
  });
  return { set: [], finer: null, group: new Int32Array(0), size: ids.length, locals, keys: [] };
}

const countedUp = (length: number): Int32Array => {
  const numbers = new Int32Array(length);
  countUp(numbers, 0, length);
  return numbers;
};

interface Combinations {
  size: number;
  /** The coarser combination of each combination of the part. */
  local: Int32Array;
}

/** The combinations of some levels of a part, numbered once for each choice of levels. */
function combinationsOf(parts: Part[]): (part: number, levels: number[]) => Combinations {
  const known = new Map<string, Combinations>();
  return (index, levels) => {
    const key = `${index} ${levels.join()}`;
    let combinations = known.get(key);
    if (!combinations) {
      const part = parts[index];
      const isWhole = levels.length === part.levels.length;
      const columns = levels.map((level) => part.codes[part.levels.indexOf(level)]);
      combinations = isWhole ? { size: part.size, local: countedUp(part.size) } : numberTuples(columns, () => true, part.size);
      known.set(key, combinations);
    }
    return combinations;
  };
}

/** Combinations are made coarser part by part, where they are few; each finer group then costs a look-up a part. */
function coarsen(grouping: Grouping, combinationsIn: ReturnType<typeof combinationsOf>, finer: Grain, set: number[]): Grain {
  const parts = grouping.parts.flatMap((part, index) => {
    const levels = set.filter((level) => part.levels.includes(level));
    if (levels.length === 0) return [];
    return [{ part, levels, locals: finer.locals[index], ...combinationsIn(index, levels) }];
  });
  const possible = parts.reduce((product, part) => product * part.size, 1);
  const numbers = new Float64Array(finer.size);
  for (const { size, local, locals } of parts) addDigit(numbers, size, local, locals);
  const group = new Int32Array(finer.size);
  const first = new Int32Array(finer.size);
  const found = isTableWorth(possible, finer.size) ? numberKeys(numbers, possible, group, first) : numberSparseKeys(numbers, group, first);
  // The grand total exists even when no record is left: its counts are zero and its sums have no value.
  const size = set.length === 0 ? 1 : found;
  const keys = set.map((level) => {
    const { part, locals } = parts.find(({ levels }) => levels.includes(level))!;
    return codesOfFirst(part.codes[part.levels.indexOf(level)], locals, first, size);
  });
  const locals = finer.locals.map((own) => {
    const ofFirst = new Int32Array(size);
    for (let number = 0; number < size; number++) ofFirst[number] = own[first[number]];
    return ofFirst;
  });
  return { set, finer, group, size, locals, keys };
}

/** The group of a grain that each of the finest groups falls into. */
export function groupsOfFinest({ finer, group }: Grain): Int32Array {
  return finer === null || finer.finer === null ? group : groupsOfFinest(finer).map((between) => group[between]);
}

/** What was counted for the groups of a grain. */
export interface Figures {
  records: Float64Array;
  /** Per stream. */
  tallies: Tally[];
}

/** The figures of grains, each added up from those of the finer one it is made of. */
export function figuresOfGrains({ records, streams }: Counted): (grain: Grain) => Figures {
  const finest: Figures = {
    records,
    tallies: streams.map(({ tally, countsRecords }) => (countsRecords ? { ...tally, count: records } : tally)),
  };
  const known = new Map<Grain, Figures>();
  const figuresOf = (grain: Grain): Figures => {
    if (grain.finer === null) return finest;
    let figures = known.get(grain);
    if (!figures) known.set(grain, (figures = addedUp(grain, figuresOf(grain.finer))));
    return figures;
  };
  const addedUp = ({ size, group }: Grain, finer: Figures): Figures => {
    const own = new Float64Array(size);
    foldSum(own, group, finer.records);
    const tallies = finer.tallies.map((tally, index): Tally => {
      const { countsRecords } = streams[index];
      const merged: Tally = {
        count: countsRecords ? own : new Float64Array(size),
        sum: new Float64Array(tally.sum.length ? size : 0),
        min: new Float64Array(tally.min.length ? size : 0).fill(Infinity),
        max: new Float64Array(tally.max.length ? size : 0).fill(-Infinity),
      };
      if (!countsRecords) foldSum(merged.count, group, tally.count);
      foldSum(merged.sum, group, tally.sum);
      foldLeast(merged.min, group, tally.min);
      foldMost(merged.max, group, tally.max);
      return merged;
    });
    return { records: own, tallies };
  };
  return figuresOf;
}

/** Which of the finest groups fall into which groups; `finest` is null where each falls into one, in their order. */
export interface Memberships {
  finest: Int32Array | null;
  groups: Int32Array;
}

/** The groups of a set with what was counted of them. */
export interface Groups extends Figures {
  /** Per level: the member code of each group. */
  keys: Int32Array[];
  /** Only asked where an aggregate has to see all values of a group. */
  finestOf(): Memberships;
}
