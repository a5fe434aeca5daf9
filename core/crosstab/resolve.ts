import type { DayRange } from '../calendar/index.ts';
import { everyPart } from '../formula/index.ts';
import { factKnows, type Dataset, type Fact } from '../model/index.ts';
import { liftsOf, type Lift } from './contexts.ts';
import { datesOfCells, periodOf } from './date-frames.ts';
import { dateQuestion, moveDates, periodsOf } from './moved-dates.ts';
import type { PlanData } from './plan-data.ts';
import { datesKey, liftKey, type CrosstabPlan, type FactPart, type Resolved } from './plan.ts';

/**
 * Finds out what the formulas of a plan need to know first: to which member of a level finer members belong, and which days
 * count where dates are moved. The queries of its parts are filled in.
 */
export async function resolvePlan(data: PlanData, plan: CrosstabPlan): Promise<void> {
  await Promise.all([resolveDates(data, plan), ...plan.parts.map((part) => findLifts(data, plan, part))]);
}

/** The part of it that is to be found out anew for all others and groups: which days count. */
export function resolveDates(data: PlanData, plan: CrosstabPlan): Promise<unknown> {
  return Promise.all([
    ...plan.parts.map((part) => moveDates(data, plan, part)),
    ...partsThatCount(plan).map((part) => findDates(data, plan, part)),
  ]);
}

async function findLifts(data: PlanData, { dataset, side, top, resolved }: CrosstabPlan, { fact, context }: FactPart): Promise<void> {
  for (const { finer, level } of liftsOf(dataset, context, [side, top])) {
    const key = liftKey(finer, level);
    if (resolved.lifts.has(key)) continue;
    const lift = new Map<string, string | null>();
    resolved.lifts.set(key, lift);
    const pairs = (await data.members([level, finer], null)) ?? (await pairsOfRecords(data, dataset, fact, [level, finer]));
    for (const [above, member] of pairs) {
      if (member === null) continue;
      // A member below several has none that it belongs to.
      lift.set(member, lift.has(member) && lift.get(member) !== above ? null : above);
    }
  }
}

/** The members of two levels that stand together in records: where those without records are not for the reader to know. */
async function pairsOfRecords(data: PlanData, dataset: Dataset, fact: Fact, levels: string[]): Promise<(string | null)[][]> {
  if (levels.some((level) => !factKnows(dataset, fact, level))) return [];
  const { members, sets } = await data.query({ fact: fact.name, filter: null, levels, sets: [[0, 1]], aggregates: [] });
  const [{ size, keys }] = sets;
  return Array.from({ length: size }, (_, group) =>
    keys.map((codes, level) => (codes[group] === 0 ? null : members[level][codes[group] - 1])),
  );
}

/** Finds members of levels by what was resolved. */
export const liftIn =
  ({ lifts }: Resolved): Lift =>
  (finer, level, member) =>
    member === null ? null : (lifts.get(liftKey(finer, level))?.get(member) ?? undefined);

/** The parts whose cells some formula counts the periods of. */
function partsThatCount({ measures, parts }: CrosstabPlan): FactPart[] {
  const counted = new Set(
    measures.flatMap(({ plan: { cell } }) => [...everyPart(cell)].flatMap((part) => (part.kind === 'periods' ? [part.fact] : []))),
  );
  return parts.filter(({ fact }) => counted.has(fact.name));
}

/** Works out the dates of a part's cells. Those of all others and groups stand beside those of members. */
async function findDates(data: PlanData, plan: CrosstabPlan, part: FactPart): Promise<void> {
  const { dataset, resolved } = plan;
  const { context, fact, unmoved, fixed } = part;
  if (!unmoved) return;
  const found = await dateQuestion(data, dataset, fact, [...plan.side, ...plan.top], unmoved.filter, context.moves);
  if (typeof found === 'string') return;
  const { question } = found;
  resolved.calendars.set(fact.name, question.calendar);
  const isDate = (field: string): boolean => periodOf(dataset, question.calendar, field) !== undefined;
  for (const set of part.sets) {
    const dates = [...set.side, ...set.top, ...set.per].filter(isDate);
    const fields = [...new Set([...dates, ...[...fixed.keys()].filter(isDate)])].sort();
    const key = datesKey(fact.name, context.key, fields);
    const ranges = resolved.dates.get(key) ?? new Map<string, DayRange[]>();
    resolved.dates.set(key, ranges);
    const { fields: ofCells, splits } = periodsOf(question, context, set);
    const own = [...ofCells, ...splits.flatMap((split) => split.fields)];
    for (const dates of datesOfCells(question, ofCells, [], splits)) {
      const members = fields.map((field) => (fixed.has(field) ? fixed.get(field) : dates.keys[own.lastIndexOf(field)]));
      ranges.set(JSON.stringify(members), context.moves.length > 0 ? dates.moved : dates.own);
    }
  }
}
