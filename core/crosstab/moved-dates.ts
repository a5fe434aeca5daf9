import { mergedRanges, parseIsoDate, periodAround, periodKey, periodRange, type DayRange } from '../calendar/index.ts';
import type { FrameTarget, Query } from '../engine/index.ts';
import { fieldsOf, linkTo, type CalendarDimension, type Dataset, type Fact, type Filter } from '../model/index.ts';
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
import type { PlanData } from './plan-data.ts';
import { splitsAfterMoves, type Context, type DateSplit } from './contexts.ts';
import type { CrosstabPlan, FactPart, SetFields } from './plan.ts';

/** What is asked about the dates of cells, and the conditions that are none on dates. */
interface AskedDates {
  question: FrameQuestion;
  rest: Filter | null;
}

/** The question of which dates cells of a fact have; a reason where there are none to tell. */
export async function dateQuestion(
  data: PlanData,
  dataset: Dataset,
  fact: Fact,
  fields: readonly string[],
  filter: Filter | null,
  moves: FrameQuestion['moves'],
): Promise<AskedDates | string> {
  const calendar = movingCalendar(dataset, fact, fields, filter);
  const level = calendar && dayLevel(calendar);
  if (!calendar || !level) return `${fact.label} have no dates.`;
  const { dates, rest, mixed } = splitDates(dataset, fact, calendar, filter);
  if (mixed) return 'A condition speaks of dates and of something else at once, so there are no dates to tell.';
  const span = await once(data, ['span', fact.name, calendar.name], () => spanOf(data, fact, calendar));
  if (!span) return `${fact.label} hold no records with dates.`;
  const conditioned = fieldsOf(dates).flatMap((field) => periodOf(dataset, calendar, field)?.period ?? []);
  const days =
    dates === null
      ? wholeCalendar(data)
      : await once(data, ['days', level.name, dates], () => daysUnder(data, calendar, level.name, dates));
  return { question: { dataset, fact, calendar, moves, days, conditioned, span }, rest };
}

const answers = new WeakMap<PlanData, Map<string, Promise<unknown>>>();

/** Finds something out once for a state of the data: all others and groups may stand in hundreds of places of the same days. */
function once<Value>(data: PlanData, key: readonly unknown[], find: () => Promise<Value>): Promise<Value> {
  let known = answers.get(data);
  if (!known) answers.set(data, (known = new Map()));
  const id = JSON.stringify(key);
  let answer = known.get(id);
  if (!answer) {
    known.set(id, (answer = find()));
    answer.catch(() => known.delete(id));
  }
  return answer as Promise<Value>;
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

/** The days with records in the columns of a set, or the periods that the fact is kept by. */
interface ColumnDays {
  /** What stands across the top of these columns beside dates. */
  within: NonNullable<FrameTarget['within']>;
  occurring: DayRange[];
}

/** Finds the days with records of the columns of each set, for the moves that go to such a day; null for a plan without one. */
async function daysOfColumns(
  data: PlanData,
  { context, fact, column, sets }: FactPart,
  question: FrameQuestion,
): Promise<ColumnDays[][] | null> {
  if (context.moves.every(({ kind }) => kind !== 'edge')) return null;
  const { dataset, calendar } = question;
  const span = spanQuestion(dataset, fact.name, calendar.name);
  if (!span) return sets.map(() => []);
  const columns = sets.map(({ top }) => top.filter((field) => !periodOf(dataset, calendar, field)));
  const fields = [...new Set(columns.flat())];
  const distinct = [...new Map(columns.map((own) => [JSON.stringify(own), own])).values()];
  const { query, daysOf } = span;
  const answer = await data.query({
    ...query,
    filter: splitDates(dataset, fact, calendar, column).rest,
    levels: [...query.levels, ...fields],
    sets: distinct.map((own) => [0, ...own.map((field) => fields.indexOf(field) + 1)]),
  });
  const found = distinct.map((own, set): ColumnDays[] => {
    const { keys, size } = answer.sets[set];
    const memberAt = (level: number, group: number): string | null => {
      const code = keys[level][group];
      return code === 0 ? null : answer.members[answer.sets[set].levels[level]][code - 1];
    };
    const byColumn = new Map<string, { within: ColumnDays['within']; days: (string | null)[] }>();
    for (let group = 0; group < size; group++) {
      const within = own.map((field, level) => ({ field, member: memberAt(level + 1, group) }));
      const id = JSON.stringify(within);
      let one = byColumn.get(id);
      if (!one) byColumn.set(id, (one = { within, days: [] }));
      one.days.push(memberAt(0, group));
    }
    return [...byColumn.values()].map(({ within, days }) => ({ within, occurring: daysOf(days) }));
  });
  return columns.map((own) => found[distinct.findIndex((one) => JSON.stringify(one) === JSON.stringify(own))]);
}

/** Lets the records of a part count where its context moves their dates to. */
export async function moveDates(data: PlanData, { dataset, side, top }: CrosstabPlan, part: FactPart): Promise<void> {
  const { unmoved, context } = part;
  if (!unmoved || context.moves.length === 0) return;
  const asked = await dateQuestion(data, dataset, part.fact, [...side, ...top, ...unmoved.levels], unmoved.filter, context.moves);
  if (typeof asked === 'string') {
    part.query = null;
    part.reason = asked;
    return;
  }
  part.query = movedQuery(part, unmoved, asked, await daysOfColumns(data, part, asked.question));
}

function movedQuery(part: FactPart, query: Query, { question, rest }: AskedDates, columnDays: ColumnDays[][] | null): Query {
  const sets = part.sets.map((set, index) => {
    const { fields, splits } = periodsOf(question, part.context, set);
    const columns: (ColumnDays | undefined)[] = columnDays ? columnDays[index] : [undefined];
    return columns.flatMap((column) => {
      const { targets, reason } = targetsOf(question, fields, column?.occurring, splits);
      part.reason ||= reason;
      return column && column.within.length > 0 ? targets.map((target) => ({ ...target, within: column.within })) : targets;
    });
  });
  const whole = columnDays?.[part.sets.findIndex((_, index) => columnDays[index].every(({ within }) => within.length === 0))]?.[0];
  const [dates] = datesOfCells(question, [], whole?.occurring);
  part.dates = dates && { own: dates.own, moved: dates.moved };
  return { ...query, filter: rest, frame: { calendar: question.calendar.name, sets } };
}

/** The periods that tell the dates of a set's cells apart, and those that dates are cut into once they are moved. */
export function periodsOf(
  { dataset, calendar }: Pick<FrameQuestion, 'dataset' | 'calendar'>,
  context: Context,
  { side, top, per }: SetFields,
): { fields: string[]; splits: DateSplit[] } {
  const isDate = (field: string): boolean => periodOf(dataset, calendar, field) !== undefined;
  const splits = splitsAfterMoves(dataset, context)
    .map(({ after, fields }) => ({ after, fields: fields.filter(isDate) }))
    .filter(({ fields }) => fields.length > 0);
  const apart = new Set(splits.flatMap(({ fields }) => fields));
  return { fields: [...new Set([...side, ...top, ...per.filter((field) => !apart.has(field))])].filter(isDate), splits };
}
