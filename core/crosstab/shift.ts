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

function isCalendarCondition(dataset: Dataset, filter: Filter): boolean {
  const fields = fieldsOf(filter);
  return fields.length > 0 && fields.every((field) => fieldPlace(dataset, field).kind === 'period');
}

/** Cuts a filter into its conditions on dates and the rest. */
export function splitDates(dataset: Dataset, filter: Filter | null): { dates: Filter | null; rest: Filter | null } {
  const items = filter === null ? [] : filter.op === 'and' ? filter.items : [filter];
  return {
    dates: allOf(...items.filter((item) => isCalendarCondition(dataset, item))),
    rest: allOf(...items.filter((item) => !isCalendarCondition(dataset, item))),
  };
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
