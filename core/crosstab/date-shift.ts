import { isoDate, periodRange, shiftRange, type DayRange, type ShiftUnit } from '../calendar/index.ts';
import {
  allOf,
  factKnows,
  fieldPlace,
  fieldsOf,
  linkTo,
  type CalendarDimension,
  type Dataset,
  type Fact,
  type Filter,
} from '../model/index.ts';

/** A filter with every condition on a field in the name of another one. */
function renamed(filter: Filter, nameOf: (field: string) => string): Filter {
  if ('items' in filter) return { ...filter, items: filter.items.map((item) => renamed(item, nameOf)) };
  if (filter.op === 'not') return { ...filter, item: renamed(filter.item, nameOf) };
  return { ...filter, field: nameOf(filter.field) };
}

export interface SplitDates {
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

/** Unbroken runs of ascending day numbers. */
export function runsOf(days: number[]): DayRange[] {
  const runs: DayRange[] = [];
  for (const day of days) {
    const last = runs.at(-1);
    if (last && day === last.last + 1) last.last = day;
    else runs.push({ first: day, last: day });
  }
  return runs;
}

/** A condition that holds on exactly the given days, in the words of the periods that a fact knows; null where it has none. */
export function daysFilter(dataset: Dataset, fact: Fact, calendar: CalendarDimension, ranges: DayRange[]): Filter | null {
  const day = calendar.levels.find((level) => level.period === 'day');
  if (day && factKnows(dataset, fact, day.name)) {
    return {
      op: 'or',
      items: ranges.map(({ first, last }) => ({ op: 'between', field: day.name, low: isoDate(first), high: isoDate(last) })),
    };
  }
  const kept = calendar.levels.find((level) => level.name === linkTo(fact, calendar)?.level);
  if (!kept) return null;
  // A fact kept by months answers when the days make up whole months.
  const months = new Set<string>();
  for (const { first, last } of ranges) {
    for (let at = first; at <= last;) {
      const key = isoDate(at).slice(0, 7);
      const range = periodRange('month', key)!;
      if (kept.period !== 'month' || range.first !== at || range.last > last) return null;
      months.add(key);
      at = range.last + 1;
    }
  }
  return { op: 'in', field: kept.name, values: [...months] };
}

/** The days, moved by some units. */
export function shiftRanges(ranges: DayRange[], amount: number, unit: ShiftUnit): DayRange[] {
  return ranges.map((range) => shiftRange(range, amount, unit));
}
