import { mergedRanges, parseIsoDate, periodAround, periodKey, periodRange, type DayRange } from '../calendar/index.ts';
import type { Query, QueryResult } from '../engine/index.ts';
import { everyPart } from '../formula/index.ts';
import { allOf, factKnows, fieldsOf, linkTo, type CalendarDimension, type Dataset, type Fact, type Filter } from '../model/index.ts';
import { liftsOf, type Lift } from './contexts.ts';
import {
  datesOfCells,
  dayLevel,
  daysOfMembers,
  movingCalendar,
  periodOf,
  splitDates,
  targetsOf,
  type DateSpan,
  type FrameQuestion,
} from './date-frames.ts';
import { spanQuestion } from './date-span.ts';
import { datesKey, liftKey, positionsOf, type CrosstabPlan, type FactPart, type Resolved } from './plan.ts';

/** What is to be known of the data before a plan can be asked. */
export interface PlanData {
  /** First day, counted from 1970-01-01, and number of days that the calendar spans. */
  readonly calendar: { first: number; days: number };
  members(levels: string[], filter: Filter | null): Promise<(string | null)[][] | null>;
  query(query: Query): Promise<QueryResult>;
  /** The first and the last day that a fact has records of by a calendar; null where it has none. */
  span(fact: string, calendar: string): Promise<DateSpan | null>;
}

/**
 * Finds out what the formulas of a plan need to know first: to which member of a level finer members belong, and which days
 * count where dates are moved. The queries of its parts are filled in.
 */
export async function resolvePlan(data: PlanData, plan: CrosstabPlan): Promise<void> {
  await Promise.all([
    ...plan.parts.filter(({ context }) => context.moves.length > 0).map((part) => frame(data, plan, part)),
    ...plan.parts.map((part) => findLifts(data, plan, part)),
    findDates(data, plan),
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

/** The question of which dates cells of a fact have; a reason where there are none to tell. */
async function dateQuestion(
  data: PlanData,
  dataset: Dataset,
  fact: Fact,
  fields: readonly string[],
  filter: Filter | null,
  moves: FrameQuestion['moves'],
): Promise<{ question: FrameQuestion; rest: Filter | null } | string> {
  const calendar = movingCalendar(dataset, fact, fields, filter);
  const level = calendar && dayLevel(calendar);
  if (!calendar || !level) return `${fact.label} have no dates.`;
  const { dates, rest, mixed } = splitDates(dataset, fact, calendar, filter);
  if (mixed) return 'A condition speaks of dates and of something else at once, so there are no dates to tell.';
  const span = await spanOf(data, fact, calendar);
  if (!span) return `${fact.label} hold no records with dates.`;
  const conditioned = fieldsOf(dates).flatMap((field) => periodOf(dataset, calendar, field)?.period ?? []);
  const days = dates === null ? wholeCalendar(data) : await daysUnder(data, calendar, level.name, dates);
  const occurring = moves.some(({ kind }) => kind === 'edge') ? await daysWithRecords(data, dataset, fact, calendar, rest) : [];
  return { question: { dataset, fact, calendar, moves, days, conditioned, span, occurring }, rest };
}

/** The days that a fact has records of under conditions, or the periods that it is kept by. */
async function daysWithRecords(
  data: PlanData,
  dataset: Dataset,
  fact: Fact,
  calendar: CalendarDimension,
  filter: Filter | null,
): Promise<DayRange[]> {
  const question = spanQuestion(dataset, fact.name, calendar.name);
  if (!question) return [];
  return question.daysOf(await data.query({ ...question.query, filter }));
}

/** A fact is complete from the day it says, or the month of its first record on; its last day is that of the last period it is kept by. */
async function spanOf(data: PlanData, fact: Fact, calendar: CalendarDimension): Promise<DateSpan | null> {
  const span = await data.span(fact.name, calendar.name);
  if (!span) return null;
  const kept = calendar.levels.find(({ name }) => name === linkTo(fact, calendar)?.level);
  const yearStart = calendar.yearStart ?? 1;
  return {
    first:
      (fact.completeFrom === undefined ? undefined : parseIsoDate(fact.completeFrom)) ??
      periodAround(span.first, 'month', 'plain', 1).first,
    last: kept ? periodRange(kept.period, periodKey(kept.period, span.last, yearStart), yearStart)!.last : span.last,
  };
}

const wholeCalendar = ({ calendar: { first, days } }: PlanData): DayRange[] => [{ first, last: first + days - 1 }];

async function daysUnder(data: PlanData, calendar: CalendarDimension, level: string, dates: Filter): Promise<DayRange[]> {
  const members = (await data.members([level], dates)) ?? [];
  const own = calendar.levels.find(({ name }) => name === level)!;
  return mergedRanges(
    daysOfMembers(
      own,
      calendar.yearStart ?? 1,
      members.map(([member]) => member),
    ),
  );
}

/** Lets the records of a part count where its context moves their dates to. */
async function frame(data: PlanData, { dataset, side, top }: CrosstabPlan, part: FactPart): Promise<void> {
  if (!part.query) return;
  const found = await dateQuestion(
    data,
    dataset,
    part.fact,
    [...side, ...top, ...part.query.levels],
    part.query.filter,
    part.context.moves,
  );
  if (typeof found === 'string') {
    part.query = null;
    part.reason = found;
    return;
  }
  part.query = framedQuery(part, part.query, found.question, found.rest);
}

function framedQuery(part: FactPart, query: Query, question: FrameQuestion, rest: Filter | null): Query {
  const { dataset, calendar } = question;
  const sets = part.sets.map((set) => {
    const fields = positionsOf(query.levels, set).map((position) => query.levels[position]);
    const { targets, reason } = targetsOf(
      question,
      fields.filter((field) => periodOf(dataset, calendar, field)),
    );
    part.reason ||= reason;
    return targets;
  });
  const [whole] = datesOfCells(question, []);
  part.dates = whole && { own: whole.own, moved: whole.moved };
  return { ...query, filter: rest, frame: { calendar: calendar.name, sets } };
}

/** Works out the dates of cells for the formulas that count periods in them. */
async function findDates(data: PlanData, plan: CrosstabPlan): Promise<void> {
  const { dataset, resolved } = plan;
  const counted = new Set(
    plan.measures.flatMap(({ plan: { cell } }) => [...everyPart(cell)].flatMap((part) => (part.kind === 'periods' ? [part.fact] : []))),
  );
  for (const part of plan.parts) {
    if (!counted.has(part.fact.name)) continue;
    const { context, fact } = part;
    const filter = allOf(context.unfiltered ? null : plan.conditions, fact.filter);
    const found = await dateQuestion(data, dataset, fact, [...plan.side, ...plan.top], filter, context.moves);
    if (typeof found === 'string') continue;
    resolved.calendars.set(fact.name, found.question.calendar);
    for (const set of part.sets) {
      const fields = [...new Set([...set.side, ...set.top, ...set.per])].filter((field) =>
        periodOf(dataset, found.question.calendar, field),
      );
      const key = datesKey(fact.name, context.key, fields);
      if (resolved.dates.has(key)) continue;
      const ranges = new Map<string, DayRange[]>();
      for (const { keys, own, moved } of datesOfCells(found.question, fields))
        ranges.set(JSON.stringify(keys), context.moves.length > 0 ? moved : own);
      resolved.dates.set(key, ranges);
    }
  }
}
