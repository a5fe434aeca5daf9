import {
  isoDate,
  mergedRanges,
  moveRanges,
  parseIsoDate,
  periodAround,
  periodKey,
  periodRange,
  styleOf,
  windowEnding,
  type DateStyle,
  type Day,
  type DayRange,
} from '../calendar/index.ts';
import type { FrameTarget } from '../engine/index.ts';
import type { DateMove } from '../formula/index.ts';
import type { DateSplit } from './contexts.ts';
import {
  allOf,
  calendarsOf,
  fieldPlace,
  fieldsOf,
  linkTo,
  type CalendarDimension,
  type CalendarLevel,
  type Dataset,
  type Fact,
  type Filter,
  type Period,
} from '../model/index.ts';

/** A filter with every condition on a field in the name of another one. */
function renamed(filter: Filter, nameOf: (field: string) => string): Filter {
  if ('items' in filter) return { ...filter, items: filter.items.map((item) => renamed(item, nameOf)) };
  if (filter.op === 'not') return { ...filter, item: renamed(filter.item, nameOf) };
  return { ...filter, field: nameOf(filter.field) };
}

interface SplitDates {
  /** Conditions on the days of the calendar; null where there are none. */
  dates: Filter | null;
  /** All others. Weekdays are among them: Mondays stand against Mondays. */
  rest: Filter | null;
  /** A condition speaks of days and of something else at once, so that there are no days to tell. */
  mixed: boolean;
}

/**
 * Cuts the conditions on a fact into those on the days of a calendar and the rest. A condition on the fact's own date,
 * the one that links it to the calendar, is one on days.
 */
export function splitDates(dataset: Dataset, fact: Fact, calendar: CalendarDimension, filter: Filter | null): SplitDates {
  const day = calendar.levels.find(({ period }) => period === 'day');
  const link = linkTo(fact, calendar);
  const own = fact.fields.filter(({ column, type, formula }) => type === 'date' && !formula && column === link?.column);
  const names = new Set(own.map(({ name }) => name.toLowerCase()));
  const nameOf = (field: string): string => (day && names.has(field.toLowerCase()) ? day.name : field);
  const isDay = (field: string): boolean => {
    const place = fieldPlace(dataset, nameOf(field));
    return place.kind === 'period' && place.dimension.name === calendar.name && place.level.period !== 'weekday';
  };
  const items = filter === null ? [] : filter.op === 'and' ? filter.items : [filter];
  const dates: Filter[] = [];
  const rest: Filter[] = [];
  let mixed = false;
  for (const item of items) {
    const fields = fieldsOf(item);
    if (fields.length > 0 && fields.every(isDay)) dates.push(renamed(item, nameOf));
    else {
      mixed ||= fields.some(isDay);
      rest.push(item);
    }
  }
  return { dates: allOf(...dates), rest: allOf(...rest), mixed };
}

/** The calendar whose dates move: the one that axes or conditions speak of, else the fact's first; undefined without any. */
export function movingCalendar(
  dataset: Dataset,
  fact: Fact,
  fields: readonly string[],
  filter: Filter | null,
): CalendarDimension | undefined {
  const linked = calendarsOf(dataset).filter((calendar) => linkTo(fact, calendar) !== undefined);
  const isNamed = (calendar: CalendarDimension): boolean => fields.some((field) => periodOf(dataset, calendar, field) !== undefined);
  const isConditioned = (calendar: CalendarDimension): boolean => {
    const { dates, mixed } = splitDates(dataset, fact, calendar, filter);
    return dates !== null || mixed;
  };
  return linked.find(isNamed) ?? linked.find(isConditioned) ?? linked[0];
}

/** The level of a calendar that a field is, where its members are runs of days. */
export function periodOf(dataset: Dataset, calendar: CalendarDimension, field: string): CalendarLevel | undefined {
  const place = fieldPlace(dataset, field);
  if (place.kind !== 'period' || place.dimension.name !== calendar.name || place.level.period === 'weekday') return undefined;
  return place.level;
}

/** The finest level of a calendar that identifies days, the day where it has one. */
export const dayLevel = ({ levels }: CalendarDimension): CalendarLevel | undefined =>
  (['day', 'iso_week', 'week', 'month', 'quarter', 'half_year', 'year'] as const)
    .map((period) => levels.find((level) => level.period === period))
    .find((level) => level !== undefined);

/** The days that members of a level stand for, in order. */
export function daysOfMembers({ period }: CalendarLevel, yearStart: number, members: readonly (string | null)[]): DayRange[] {
  return mergedRanges(
    members.flatMap((member) => {
      if (member === null) return [];
      const day = period === 'day' ? parseIsoDate(member) : undefined;
      const range = day === undefined ? periodRange(period, member, yearStart) : { first: day, last: day };
      return range ? [range] : [];
    }),
  );
}

/** From which day a fact is complete, and the last day that it has records of. */
export interface DateSpan {
  first: Day;
  last: Day;
}

export interface FrameQuestion {
  dataset: Dataset;
  fact: Fact;
  calendar: CalendarDimension;
  moves: readonly DateMove[];
  /** The days that the conditions on dates leave. */
  days: readonly DayRange[];
  /** Periods that conditions on dates speak of. */
  conditioned: readonly Period[];
  span: DateSpan;
}

/** The dates of the cells of a set, before and after they are moved. */
interface CellDates {
  keys: string[];
  own: DayRange[];
  /** Empty where there are no such dates. */
  moved: DayRange[];
  /** Why there are none. */
  reason: string;
}

/** More places of dates than this are not distinguished. */
const MOST_PLACES = 200_000;

/** The dates of one cell so far, with the members that tell it apart. */
interface DatedCell {
  keys: string[];
  own: DayRange[];
  /** Empty where there are no such dates; `reason` then says why. */
  now: DayRange[];
  reason: string;
}

/** Dates cut by some periods: for each combination of their members that days have, a cell of its own. Null past `MOST_PLACES`. */
function cutBy(
  ranges: readonly DayRange[],
  periods: readonly Period[],
  yearStart: number,
): Map<string, { keys: string[]; own: DayRange[] }> | null {
  const places = new Map<string, { keys: string[]; own: DayRange[] }>();
  for (const range of ranges) {
    for (let at = range.first; at <= range.last;) {
      const keys = periods.map((period) => periodKey(period, at, yearStart));
      const end = periods.reduce((least, period, index) => Math.min(least, periodRange(period, keys[index], yearStart)!.last), range.last);
      const id = keys.join('\u0000');
      let place = places.get(id);
      if (!place) places.set(id, (place = { keys, own: [] }));
      place.own.push({ first: at, last: end });
      at = end + 1;
      if (places.size > MOST_PLACES) return null;
    }
  }
  return places;
}

/**
 * The dates of the cells that some periods tell apart: for each combination of their members that days have. Moves are made in
 * their order; `splits` cut what was moved until then into members that are gone through, whose keys follow those of `fields`.
 * Where a move goes to a day with records, `occurring` are all of them, in order, or the periods that the fact is kept by.
 */
export function datesOfCells(
  question: FrameQuestion,
  fields: readonly string[],
  occurring: readonly DayRange[] = [],
  splits: readonly DateSplit[] = [],
): CellDates[] {
  const { dataset, calendar, days, span, moves } = question;
  const yearStart = calendar.yearStart ?? 1;
  const periodsOf = (own: readonly string[]): Period[] => own.map((field) => periodOf(dataset, calendar, field)!.period);
  const within = days.flatMap(({ first, last }) => {
    const own = { first: Math.max(first, span.first), last: Math.min(last, span.last) };
    return own.first <= own.last ? [own] : [];
  });
  let periodFields = periodsOf(fields);
  const cells = cutBy(within, periodFields, yearStart);
  if (!cells) return [];
  let dated = [...cells.values()].map(({ keys, own }): DatedCell => {
    const merged = mergedRanges(own);
    return { keys, own: merged, now: merged, reason: '' };
  });
  for (let made = 0; made <= moves.length; made++) {
    for (const { fields: own } of splits.filter(({ after }) => after === made)) {
      const periods = periodsOf(own);
      periodFields = [...periodFields, ...periods];
      dated = dated.flatMap((before): DatedCell[] => {
        // Where the dates as a whole are not complete, none of their members stands for them.
        const { moved: now, reason } =
          made === 0 ? { moved: before.now, reason: before.reason } : complete(question, before.now, before.reason);
        const cell = { ...before, now, reason };
        const parts = cell.now.length > 0 ? cutBy(cell.now, periods, yearStart) : null;
        if (!parts) return cell.reason === '' ? [] : [cell];
        return [...parts.values()].map(({ keys, own: part }) => {
          return { ...cell, keys: [...cell.keys, ...keys], now: mergedRanges(part) };
        });
      });
    }
    if (made === moves.length) break;
    const style = styleOf([...periodFields, ...question.conditioned]);
    dated = dated.map((cell) => (cell.now.length === 0 ? cell : { ...cell, ...moved(question, moves[made], cell.now, style, occurring) }));
  }
  return dated.map(({ keys, own, now, reason }) => ({ keys, own, ...complete(question, now, reason) }));
}

/** Dates after one move; none, with the reason, where there are no such dates. */
function moved(
  { fact, calendar }: FrameQuestion,
  move: DateMove,
  ranges: DayRange[],
  style: DateStyle,
  occurring: readonly DayRange[],
): Pick<DatedCell, 'now' | 'reason'> {
  const now = movedBy(move, ranges, style, calendar.yearStart ?? 1, occurring);
  if (now.length > 0) return { now, reason: '' };
  return { now, reason: move.kind === 'edge' ? `${fact.label} have no records on these dates.` : 'The other year has no such week.' };
}

/** Dates that a fact is complete for; none, with the reason, where some of them are earlier. */
function complete({ fact, span, moves }: FrameQuestion, dates: DayRange[], reason: string): { moved: DayRange[]; reason: string } {
  if (dates.length > 0 && moves.length > 0 && dates[0].first < span.first)
    return { moved: [], reason: `${fact.label} are complete from ${isoDate(span.first)} on, and this would need earlier days.` };
  return { moved: dates, reason };
}

function movedBy(move: DateMove, ranges: DayRange[], style: DateStyle, yearStart: number, occurring: readonly DayRange[]): DayRange[] {
  const { last } = ranges.at(-1)!;
  switch (move.kind) {
    case 'back':
      return moveRanges(ranges, -move.amount, move.unit, style, yearStart);
    case 'to_date':
      return [{ first: periodAround(last, move.period, style, yearStart).first, last }];
    case 'rolling':
      return [windowEnding(last, move.amount, move.unit)];
    case 'edge': {
      const edge = move.edge === 'first' ? firstInside(occurring, ranges) : lastInside(occurring, ranges);
      return edge ? [edge] : [];
    }
    case 'whole':
      return [periodAround(last, move.period, style, yearStart)];
  }
}

/** The first position of a list from which on something holds, by halving. */
function firstWhere<Item>(items: readonly Item[], holds: (item: Item) => boolean): number {
  let [low, high] = [0, items.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(items[middle])) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** The first of some days in order that lies in a range. */
function firstInside(days: readonly DayRange[], ranges: readonly DayRange[]): DayRange | undefined {
  for (const { first, last } of ranges) {
    const day = days[firstWhere(days, (one) => one.first >= first)];
    if (day && day.last <= last) return day;
  }
  return undefined;
}

function lastInside(days: readonly DayRange[], ranges: readonly DayRange[]): DayRange | undefined {
  for (const { first, last } of [...ranges].reverse()) {
    const day = days[firstWhere(days, (one) => one.last > last) - 1];
    if (day && day.first >= first) return day;
  }
  return undefined;
}

/**
 * The targets of a frame for one set. A fact that is kept by longer periods than days answers only where these are whole;
 * `reason` says why some target is left out.
 */
export function targetsOf(
  question: FrameQuestion,
  fields: readonly string[],
  occurring?: readonly DayRange[],
  splits?: readonly DateSplit[],
): { targets: FrameTarget[]; reason: string } {
  const { fact, calendar } = question;
  const kept = calendar.levels.find(({ name }) => name === linkTo(fact, calendar)?.level);
  let reason = '';
  const targets = datesOfCells(question, fields, occurring, splits).flatMap(({ keys, moved, reason: own }): FrameTarget[] => {
    const isKept = !kept || moved.every((range) => isMadeOf(range, kept.period, calendar.yearStart ?? 1));
    reason ||= own || (isKept ? '' : `${fact.label} are kept by ${kept.plural}, and these dates are not whole ones.`);
    return moved.length > 0 && isKept ? [{ keys, ranges: moved }] : [];
  });
  return { targets, reason };
}

/** Whether a range is made of whole periods. */
function isMadeOf({ first, last }: DayRange, period: Period, yearStart: number): boolean {
  const start = periodRange(period, periodKey(period, first, yearStart), yearStart);
  const end = periodRange(period, periodKey(period, last, yearStart), yearStart);
  return start?.first === first && end?.last === last;
}
