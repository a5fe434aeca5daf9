import type { Period } from '../model/index.ts';
import { civilOf, type Day } from './days.ts';
import { periodKey, periodRange, shiftDay, shiftRange, type DayRange, type ShiftUnit } from './periods.ts';

/** By what dates are given: ISO 8601 weeks and years of weeks move by year, week and day of the week. */
export type DateStyle = 'plain' | 'fiscal' | 'iso_weeks' | 'weeks';

const WEEKS: readonly Period[] = ['week_year', 'week_quarter', 'week_month', 'week'];
const FISCAL: readonly Period[] = ['fiscal_year', 'fiscal_half_year', 'fiscal_quarter'];

/** The style of dates that are told by some periods: the one that is not the plain calendar's decides. */
export function styleOf(periods: readonly Period[]): DateStyle {
  if (periods.includes('iso_week')) return 'iso_weeks';
  if (periods.some((period) => WEEKS.includes(period))) return 'weeks';
  return periods.some((period) => FISCAL.includes(period)) ? 'fiscal' : 'plain';
}

/** Ranges in order, those that touch or overlap as one. */
export function mergedRanges(ranges: readonly DayRange[]): DayRange[] {
  const merged: DayRange[] = [];
  for (const { first, last } of [...ranges].sort((a, b) => a.first - b.first)) {
    const before = merged.at(-1);
    if (before && first <= before.last + 1) before.last = Math.max(before.last, last);
    else merged.push({ first, last });
  }
  return merged;
}

/** First day of the year of weeks that a day lies in, and how many weeks it has. */
function weeksAround(day: Day, style: 'iso_weeks' | 'weeks', yearStart: number): DayRange & { year: number } {
  const start = style === 'iso_weeks' ? 1 : yearStart;
  const key = periodKey('week_year', day, start);
  return { ...periodRange('week_year', key, start)!, year: Number(key.slice(2)) };
}

/** The same day of the same week some years of weeks away; undefined where that year lacks week 53. */
function shiftWeekYears(day: Day, amount: number, style: 'iso_weeks' | 'weeks', yearStart: number): Day | undefined {
  const own = weeksAround(day, style, yearStart);
  // A day in the middle of the wanted year, to find its first day by.
  const other = weeksAround(own.first + Math.round(amount * 365.2425) + 180, style, yearStart);
  const moved = other.first + (day - own.first);
  return moved <= other.last ? moved : undefined;
}

/** The month or quarter of weeks that a day lies in. */
const weekPeriodAround = (day: Day, period: 'week_month' | 'week_quarter', yearStart: number): DayRange =>
  periodRange(period, periodKey(period, day, yearStart), yearStart)!;

/** How many months of weeks lie before a day in its year of weeks. */
function monthsBefore(day: Day, yearStart: number): number {
  const { first } = weeksAround(day, 'weeks', yearStart);
  let count = 0;
  for (let month = weekPeriodAround(first, 'week_month', yearStart); month.last < day; count++)
    month = weekPeriodAround(month.last + 1, 'week_month', yearStart);
  return count;
}

/** The month of weeks some months away; twelve of them are a year. */
function shiftWeekMonth(day: Day, amount: number, yearStart: number): DayRange {
  const at = monthsBefore(day, yearStart) + amount;
  const { first } = weeksAround(day, 'weeks', yearStart);
  const year = weeksAround(first + Math.round(Math.floor(at / 12) * 365.2425) + 180, 'weeks', yearStart);
  let month = weekPeriodAround(year.first, 'week_month', yearStart);
  for (let step = ((at % 12) + 12) % 12; step > 0; step--) month = weekPeriodAround(month.last + 1, 'week_month', yearStart);
  return month;
}

/** Whether a range is made of whole months of weeks. */
function wholeWeekMonths(range: DayRange, yearStart: number): boolean {
  return (
    weekPeriodAround(range.first, 'week_month', yearStart).first === range.first &&
    weekPeriodAround(range.last, 'week_month', yearStart).last === range.last
  );
}

const WEEK_MONTHS_IN: Record<ShiftUnit, number> = { year: 12, quarter: 3, month: 1, week: 0, day: 0 };

/** Dates of week-based years, moved by years, quarters or months of weeks; undefined where there is no such week. */
function shiftWeeks(range: DayRange, amount: number, unit: ShiftUnit, yearStart: number): DayRange | undefined {
  const months = WEEK_MONTHS_IN[unit] * amount;
  // Whole against whole, whatever their lengths: a month of six weeks against one of five.
  if (wholeWeekMonths(range, yearStart))
    return { first: shiftWeekMonth(range.first, months, yearStart).first, last: shiftWeekMonth(range.last, months, yearStart).last };
  const moved = (day: Day): Day | undefined => {
    if (unit === 'year') return shiftWeekYears(day, amount, 'weeks', yearStart);
    const own = weekPeriodAround(day, 'week_month', yearStart);
    const other = shiftWeekMonth(day, months, yearStart);
    return Math.min(other.first + (day - own.first), other.last);
  };
  const [first, last] = [moved(range.first), moved(range.last)];
  return first === undefined || last === undefined ? undefined : { first, last };
}

function shiftRangeBy(range: DayRange, amount: number, unit: ShiftUnit, style: DateStyle, yearStart: number): DayRange | undefined {
  if (style === 'weeks' && WEEK_MONTHS_IN[unit] > 0) return shiftWeeks(range, amount, unit, yearStart);
  if (unit !== 'year' || style !== 'iso_weeks') return shiftRange(range, amount, unit);
  const first = shiftWeekYears(range.first, amount, style, yearStart);
  if (first === undefined) return undefined;
  // A year of 53 weeks stands against one of 52: whole against whole.
  const end = weeksAround(range.last, style, yearStart);
  const last =
    range.last === end.last && range.first === weeksAround(range.first, style, yearStart).first
      ? weeksAround(end.first + Math.round(amount * 365.2425) + 180, style, yearStart).last
      : shiftWeekYears(range.last, amount, style, yearStart);
  return last === undefined ? undefined : { first, last };
}

/**
 * Ranges of days, moved by some units. Whole months stay whole, parts move day by day with month ends clamped; dates told by
 * weeks move by year, week and day of the week. Empty where the other year lacks the week.
 */
export function moveRanges(ranges: readonly DayRange[], amount: number, unit: ShiftUnit, style: DateStyle, yearStart: number): DayRange[] {
  const moved = ranges.map((range) => shiftRangeBy(range, amount, unit, style, yearStart));
  return moved.includes(undefined) ? [] : mergedRanges(moved as DayRange[]);
}

const YEAR_OF: Record<DateStyle, Period> = { plain: 'year', fiscal: 'fiscal_year', iso_weeks: 'week_year', weeks: 'week_year' };
const QUARTER_OF: Record<DateStyle, Period> = {
  plain: 'quarter',
  fiscal: 'fiscal_quarter',
  iso_weeks: 'week_quarter',
  weeks: 'week_quarter',
};

/** The period of some kind that a day lies in; `year` and `quarter` are those that the dates are told by. */
export function periodAround(day: Day, period: Period, style: DateStyle, yearStart: number): DayRange {
  const own = period === 'year' ? YEAR_OF[style] : period === 'quarter' ? QUARTER_OF[style] : period;
  const start = style === 'iso_weeks' ? 1 : yearStart;
  return periodRange(own, periodKey(own, day, start), start)!;
}

/** The window of some length that ends with a day: whole months where it ends with one. */
export function windowEnding(last: Day, amount: number, unit: ShiftUnit): DayRange {
  const months = { year: 12, quarter: 3, month: 1, week: 0, day: 0 }[unit] * amount;
  if (months === 0) return { first: last - amount * (unit === 'week' ? 7 : 1) + 1, last };
  const endsMonth = civilOf(last + 1).day === 1;
  return { first: endsMonth ? shiftDay(last + 1, -months, 'month') : shiftDay(last, -months, 'month') + 1, last };
}
