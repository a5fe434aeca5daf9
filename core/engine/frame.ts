import { fieldPlace, linkTo, type Dataset, type Fact } from '../model/index.ts';
import type { Tally } from './aggregates.ts';
import type { Store } from './columns.ts';
import { numberTuples } from './grouping.ts';
import { foldLeast, foldMost, foldSum, gather, isTableWorth, numberKeys, numberSparseKeys } from './kernels.ts';
import type { Condition } from './predicate.ts';
import { QueryError, TooManyGroupsError, type DateFrame, type FrameTarget, type Query } from './query.ts';
import { groupsOfFinest, type Figures, type Grain, type Groups, type Memberships } from './roll-up.ts';
import { factTable, type Lookup } from './source.ts';

/** More places than this for the days of all groups are not laid out. */
const MOST_PLACES = 40_000_000;

/**
 * A date frame made ready. Days are cut into runs that no range divides; records are counted by these, and each run is then
 * added to every target that it is a part of.
 */
export interface FramePlan {
  /** The levels that are grouped by as they are. */
  levels: string[];
  /** Sets in positions of these levels, the runs of days at the end. */
  sets: number[][];
  atoms: Lookup;
  /** Leaves out days that count nowhere. */
  condition: Condition;
  targets: SetTargets[];
  /** Members of all levels of the query, given those of the plain ones. */
  membersOf(plain: string[][]): string[][];
}

interface SetTargets {
  count: number;
  /** Targets of each run: those from `starts[run]` on, to `starts[run + 1]`. */
  starts: Int32Array;
  targets: Int32Array;
  /** Per level of the set: the plain level's place in the grain's keys, or the codes of the targets. */
  levels: ({ plain: number } | { codes: Int32Array })[];
  /** What targets are bound to: per such level its place in the grain's keys and in the plan's levels, and the member of each target. */
  bound: { plain: number; level: number; members: (string | null)[] }[];
}

/** Whether a level of a query is one of the periods that targets tell. */
export function isFramed(dataset: Dataset, { calendar }: DateFrame, level: string): boolean {
  const place = fieldPlace(dataset, level);
  return place.kind === 'period' && place.dimension.name === calendar && place.level.period !== 'weekday';
}

/** Throws QueryError where the fact has no dates of that calendar. */
export function planFrame(dataset: Dataset, store: Store, fact: Fact, query: Query, frame: DateFrame): FramePlan {
  const dimension = dataset.dimensions.find(({ name }) => name === frame.calendar);
  if (!dimension || !linkTo(fact, dimension))
    throw new QueryError('field-not-known', frame.calendar, `${fact.label} have no dates of "${frame.calendar}".`);
  const framed = query.levels.map((level) => isFramed(dataset, frame, level));
  const plainOf = query.levels.map((_, level) => framed.slice(0, level).filter((one) => !one).length);
  const levels = query.levels.filter((_, level) => !framed[level]);
  const { first, days } = store.calendar;
  const cuts = [...new Set(frame.sets.flat().flatMap(({ ranges }) => ranges.flatMap((range) => [range.first, range.last + 1])))].sort(
    (a, b) => a - b,
  );
  const runAt = new Map(cuts.map((day, index) => [day, index]));
  const reference = factTable(store, fact).links[frame.calendar];
  const codes = new Int32Array(days + 1);
  const covered = new Uint8Array(cuts.length + 1);
  for (const { ranges } of frame.sets.flat())
    for (const range of ranges) covered.fill(1, runAt.get(range.first)!, runAt.get(range.last + 1)!);
  for (let run = 0; run + 1 < cuts.length; run++) {
    if (covered[run]) codes.fill(run + 1, clamp(cuts[run] - first + 1, 1, days + 1), clamp(cuts[run + 1] - first + 1, 1, days + 1));
  }
  const members = query.levels.map((_, level) => (framed[level] ? keysOf(query, frame, framed, level) : []));
  return {
    levels,
    sets: query.sets.map((set) => [...set.filter((level) => !framed[level]).map((level) => plainOf[level]), levels.length]),
    atoms: { id: frame.calendar, reference, codes, members: [] },
    condition: { kind: 'entries', link: frame.calendar, reference, truth: Uint8Array.from(codes, (code) => (code > 0 ? 1 : 0)) },
    targets: query.sets.map((set, index) => ({
      ...targetsOf(set, frame.sets[index], framed, members, runAt, cuts.length),
      bound: boundOf(
        set.filter((level) => !framed[level]).map((level) => query.levels[level]),
        frame.sets[index],
        levels,
      ),
    })),
    membersOf: (plain) => query.levels.map((_, level) => (framed[level] ? members[level] : plain[plainOf[level]])),
  };
}

const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value));

/** The members of a framed level, in their order. */
function keysOf({ sets }: Query, frame: DateFrame, framed: boolean[], level: number): string[] {
  const keys = new Set<string>();
  sets.forEach((set, index) => {
    const at = set.filter((one) => framed[one]).indexOf(level);
    if (at >= 0) for (const target of frame.sets[index]) keys.add(target.keys[at]);
  });
  return [...keys].sort();
}

/** What the targets of a set are bound to; `plain` are the set's own levels that are grouped by as they are. */
function boundOf(plain: string[], targets: FrameTarget[], levels: string[]): SetTargets['bound'] {
  const fields = targets[0]?.within?.map(({ field }) => field) ?? [];
  return fields.map((field, at) => ({
    plain: plain.indexOf(field),
    level: levels.indexOf(field),
    members: targets.map(({ within }) => within![at].member),
  }));
}

function targetsOf(
  set: number[],
  targets: DateFrame['sets'][number],
  framed: boolean[],
  members: string[][],
  runAt: Map<number, number>,
  runs: number,
): Omit<SetTargets, 'bound'> {
  const starts = new Int32Array(runs + 2);
  const each = (visit: (run: number, target: number) => void): void =>
    targets.forEach(({ ranges }, target) => {
      for (const { first, last } of ranges) for (let run = runAt.get(first)!; run < runAt.get(last + 1)!; run++) visit(run, target);
    });
  each((run) => starts[run + 1]++);
  for (let run = 0; run <= runs; run++) starts[run + 1] += starts[run];
  const placed = new Int32Array(starts[runs + 1]);
  const next = starts.slice();
  each((run, target) => (placed[next[run]++] = target));
  let plain = 0;
  let key = 0;
  const levels = set.map((level): SetTargets['levels'][number] => {
    if (!framed[level]) return { plain: plain++ };
    const codeOf = new Map(members[level].map((member, index) => [member, index + 1]));
    const at = key++;
    return { codes: Int32Array.from(targets, ({ keys }) => codeOf.get(keys[at])!) };
  });
  return { count: targets.length, starts, targets: placed, levels };
}

/** Tells whether a group of a grain may count in a target; null where any may. `members` are those of the plan's levels. */
function admission({ bound }: SetTargets, grain: Grain, members: string[][]): ((group: number, target: number) => boolean) | null {
  if (bound.length === 0) return null;
  const admitted = bound.map(({ plain, level, members: own }) => {
    const codeOf = new Map<string | null, number>(members[level].map((member, index) => [member, index + 1]));
    codeOf.set(null, 0);
    return { keys: grain.keys[plain], codes: Int32Array.from(own, (member) => codeOf.get(member) ?? -1) };
  });
  return (group, target) => admitted.every(({ keys, codes }) => keys[group] === codes[target]);
}

/**
 * Adds the runs of days of a grain to the targets they count in; `members` are those of the plan's levels. Throws
 * TooManyGroupsError where these are too many.
 */
export function expandGrain(plan: FramePlan, grain: Grain, figures: Figures, set: number, members: string[][]): Groups {
  const { count, starts, targets, levels } = plan.targets[set];
  const admits = admission(plan.targets[set], grain, members);
  const runs = grain.keys.at(-1)!;
  const rest = numberTuples(grain.keys.slice(0, -1), () => true, grain.size);
  let places = 0;
  for (let group = 0; group < grain.size; group++) {
    const run = runs[group] - 1;
    if (!admits) places += starts[run + 1] - starts[run];
    else for (let k = starts[run]; k < starts[run + 1]; k++) if (admits(group, targets[k])) places++;
  }
  if (places > MOST_PLACES) throw new TooManyGroupsError(places);
  const from = new Int32Array(places);
  const target = new Int32Array(places);
  const numbers = new Float64Array(places);
  let place = 0;
  for (let group = 0; group < grain.size; group++) {
    const run = runs[group] - 1;
    for (let k = starts[run]; k < starts[run + 1]; k++) {
      if (admits && !admits(group, targets[k])) continue;
      from[place] = group;
      target[place] = targets[k];
      numbers[place++] = rest.local[group] * count + targets[k];
    }
  }
  const groups = new Int32Array(places);
  const first = new Int32Array(places);
  const possible = rest.size * count;
  const found = isTableWorth(possible, places) ? numberKeys(numbers, possible, groups, first) : numberSparseKeys(numbers, groups, first);
  // The grand total exists even when no record is left, as without a frame.
  const size = levels.length === 0 ? 1 : found;
  const keys = levels.map((level) =>
    Int32Array.from({ length: size }, (_, group) =>
      'plain' in level ? rest.codes[level.plain][rest.local[from[first[group]]]] : level.codes[target[first[group]]],
    ),
  );
  const gathered = (source: Float64Array): Float64Array => {
    const own = new Float64Array(source.length === 0 ? 0 : places);
    gather(own, source, from);
    return own;
  };
  const folded = (source: Float64Array, start: number, fold: typeof foldSum): Float64Array => {
    const own = new Float64Array(source.length === 0 ? 0 : size).fill(start);
    fold(own, groups, gathered(source));
    return own;
  };
  return {
    keys,
    records: source(figures.records, size, folded),
    tallies: figures.tallies.map(({ count: counted, sum, min, max }): Tally => ({
      count: source(counted, size, folded),
      sum: folded(sum, 0, foldSum),
      min: folded(min, Infinity, foldLeast),
      max: folded(max, -Infinity, foldMost),
    })),
    finestOf: () => membershipsOf(grain, from, groups),
  };
}

/** Counts of no groups are counts of nothing. */
function source(
  counts: Float64Array,
  size: number,
  folded: (source: Float64Array, start: number, fold: typeof foldSum) => Float64Array,
): Float64Array {
  return counts.length === 0 ? new Float64Array(size) : folded(counts, 0, foldSum);
}

/** Every finest group in every target of the grain's group that it falls into. */
function membershipsOf(grain: Grain, from: Int32Array, groups: Int32Array): Memberships {
  const starts = new Int32Array(grain.size + 1);
  for (const group of from) starts[group + 1]++;
  for (let group = 0; group < grain.size; group++) starts[group + 1] += starts[group];
  const groupOf = groupsOfFinest(grain);
  const finest: number[] = [];
  const into: number[] = [];
  // Places of a group stand together, since they were laid out group by group.
  groupOf.forEach((group, position) => {
    for (let place = starts[group]; place < starts[group + 1]; place++) {
      finest.push(position);
      into.push(groups[place]);
    }
  });
  return { finest: Int32Array.from(finest), groups: Int32Array.from(into) };
}
