import { factNamed, type Dataset } from '../model/index.ts';
import { aggregates, type Aggregate } from './aggregates.ts';
import type { Store } from './columns.ts';
import { countRange, type Counted, type CountedValues, type RecordRange } from './count.ts';
import { refuseEarly } from './early-bounds.ts';
import { ascending, valuesOfGroups } from './holistic.ts';
import { expandGrain, planFrame, type FramePlan } from './frame.ts';
import { planGrouping, type Grouping } from './grouping.ts';
import { compileConjuncts } from './predicate.ts';
import { refuseTooLarge, type AggregateValues, type GroupingSetResult, type Query, type QueryResult } from './query.ts';
import { factTable } from './source.ts';
import { coarserGrains, figuresOfGrains, groupsOfFinest, type Groups, type Memberships } from './roll-up.ts';
import { planStreams, type PlannedAggregate, type Stream } from './streams.ts';

/** Everything that a query needs to know before it reads a record. */
interface QueryPlan {
  query: Query;
  rows: number;
  grouping: Grouping;
  streams: Stream[];
  planned: PlannedAggregate[];
  /** Conditions that need the whole record. */
  tests: ((row: number) => number)[];
  maxGroups: number;
  /** How days count in periods that are not their own; null where each counts in its own. */
  frame: FramePlan | null;
}

/** Throws QueryError where the query does not fit. */
export function planQuery(dataset: Dataset, store: Store, query: Query, maxGroups = 4_000_000): QueryPlan {
  const fact = factNamed(dataset, query.fact);
  const { rows } = factTable(store, fact);
  const conditions = compileConjuncts(dataset, store, fact, query.filter);
  const tests = conditions.flatMap((condition) => (condition.kind === 'rows' ? [condition.test] : []));
  const frame = query.frame ? planFrame(dataset, store, fact, query, query.frame) : null;
  const grouping = frame
    ? planGrouping(dataset, store, fact, frame.levels, [...conditions, frame.condition], [frame.atoms])
    : planGrouping(dataset, store, fact, query.levels, conditions);
  return { query, rows, grouping, tests, maxGroups, frame, ...planStreams(dataset, store, fact, query.aggregates) };
}

/**
 * The columnar runner: answers a query from columns in memory. Additive aggregates are counted once at the finest
 * grain and rolled up; the others are calculated from the records' values at each grain.
 * Throws QueryError where the query does not fit, TooManyGroupsError past `maxGroups`, CrosstabTooLargeError past
 * the query's bounds.
 */
export function runQuery(dataset: Dataset, store: Store, query: Query, maxGroups?: number): QueryResult {
  return runPlan(planQuery(dataset, store, query, maxGroups));
}

/** Answers a query that was planned. Throws as `runQuery` does. */
export function runPlan(plan: QueryPlan): QueryResult {
  refuseEarly(plan);
  return answerOf(plan, countRange(plan, { from: 0, to: plan.rows }).counted());
}

/** Counts a run of records, to be handed to another thread. Throws as `runQuery` does. */
export function countShared(dataset: Dataset, store: Store, query: Query, range: RecordRange, maxGroups?: number): Counted {
  return countRange(planQuery(dataset, store, query, maxGroups), range).counted('shared');
}

/**
 * Whether parts of the records can be counted apart and give the same digits: whole numbers add up alike in any order, floats
 * do not.
 */
export const canSplit = ({ streams }: QueryPlan): boolean =>
  streams.every(({ operand, tallies }) => !tallies.has('sum') || (operand?.type === 'number' && operand.compiled.scale !== null));

/**
 * The same answer with the later records counted elsewhere meanwhile. `elsewhere` counts a run of records by `countShared`.
 * Throws as `runQuery` does.
 */
export async function runSplitQuery(
  plan: QueryPlan,
  elsewhere: (range: RecordRange) => Promise<Counted>,
  parts: number,
): Promise<QueryResult> {
  refuseEarly(plan);
  const length = Math.ceil(plan.rows / parts);
  const later = Array.from({ length: parts - 1 }, (_, index) =>
    elsewhere({ from: (index + 1) * length, to: Math.min((index + 2) * length, plan.rows) }),
  );
  // What fails here is thrown from here; what fails there is then nobody's.
  for (const one of later) one.catch(() => undefined);
  const count = countRange(plan, { from: 0, to: length });
  for (const one of later) count.absorb(await one);
  return answerOf(plan, count.counted());
}

const isSorted = (aggregate: Aggregate): boolean => aggregate.kind === 'holistic' && aggregate.sorted;

function answerOf({ query, grouping, streams, planned, frame }: QueryPlan, finest: Counted): QueryResult {
  const grains = coarserGrains(grouping, finest, frame?.sets ?? query.sets);
  const figures = figuresOfGrains(finest);
  const kept = streams.map((_, index) => {
    const own = finest.streams[index].kept;
    const wantsOrder = planned.some(({ call, stream }) => stream === index && isSorted(aggregates[call.fn]));
    return own && wantsOrder ? ascending(own) : own;
  });
  if (frame) {
    const sets = grains.map((grain, set) => {
      const groups = expandGrain(frame, grain, figures(grain), set, grouping.members);
      return { ...resultOf(groups, kept, streams, planned), levels: query.sets[set] };
    });
    return { members: frame.membersOf(grouping.members), sets };
  }
  refuseTooLarge(query.bounds, (set) => Math.max(1, grains[set].size));
  return {
    members: grouping.members,
    sets: grains.map((grain) => {
      const finestOf = (): Memberships => ({ finest: null, groups: groupsOfFinest(grain) });
      return { ...resultOf({ keys: grain.keys, finestOf, ...figures(grain) }, kept, streams, planned), levels: grain.set };
    }),
  };
}

function resultOf(
  { keys, records, tallies, finestOf }: Groups,
  kept: (CountedValues | null)[],
  streams: Stream[],
  planned: PlannedAggregate[],
): Omit<GroupingSetResult, 'levels'> {
  const size = records.length;
  let memberships: Memberships | undefined;
  const values = planned.map(({ call, stream }): AggregateValues => {
    const aggregate = aggregates[call.fn];
    const operand = streams[stream].operand;
    const scale = operand?.type === 'number' ? operand.compiled.scale : 0;
    const figures = new Float64Array(size);
    if (aggregate.kind === 'additive') {
      for (let group = 0; group < size; group++) figures[group] = aggregate.value(tallies[stream], group);
    } else {
      memberships ??= finestOf();
      valuesOfGroups(aggregate, kept[stream]!, memberships, size, call.fraction ?? 0.5, figures);
    }
    if (aggregate.result === 'whole') return { type: 'number', values: figures, scale: 0 };
    if (operand && operand.type === 'text') return { type: 'text', values: figures, members: operand.members };
    if (operand && operand.type === 'date') return { type: 'date', values: figures };
    return plainNumbers(figures, scale, aggregate.power, aggregate.result);
  });
  return { size, keys, records, values };
}

/** Whether every value is a whole number that a double holds exactly. */
function allSafe(values: Float64Array): boolean {
  for (let group = 0; group < values.length; group++) if (Math.abs(values[group]) > Number.MAX_SAFE_INTEGER) return false;
  return true;
}

/** Units of 10^-scale to plain numbers; `power` is that of the units: 2 for squares. */
function plainNumbers(values: Float64Array, scale: number | null, power: number, result: 'keep' | 'float'): AggregateValues {
  if (scale === null) return { type: 'number', values, scale: null };
  const exact = result === 'keep' && allSafe(values);
  const divisor = 10 ** (scale * power);
  if (divisor !== 1) for (let group = 0; group < values.length; group++) values[group] /= divisor;
  return { type: 'number', values, scale: exact ? scale : null };
}
