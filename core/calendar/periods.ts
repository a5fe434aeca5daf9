import type { Period } from '../model/index.ts';
import { civilOf, dayOf, daysInMonth, isoDate, isoWeekday, parseIsoDate, type Day } from './days.ts';

export interface DayRange {
  first: Day;
  last: Day;
}

/** One way of cutting time: its key for a day, and the days a key stands for. `start` is the fiscal year's first month. */
interface PeriodUnit {
  key(day: Day, start: number): string;
  /** The days of a key; undefined where the text is no key of this unit or the unit names no range (weekdays). */
  range(key: string, start: number): DayRange | undefined;
}

const monthsUnit = (months: number, key: (year: number, index: number) => string, pattern: RegExp): PeriodUnit => ({
  key(day) {
    const civil = civilOf(day);
    return key(civil.year, Math.floor((civil.month - 1) / months) + 1);
  },
  range(text) {
    const match = pattern.exec(text);
    if (!match) return undefined;
    const year = Number(match[1]);
    const index = match[2] === undefined ? 1 : Number(match[2]);
    if (index < 1 || index > 12 / months) return undefined;
    const first = (index - 1) * months + 1;
    const last = first + months - 1;
    return { first: dayOf(year, first, 1), last: dayOf(year, last, daysInMonth(year, last)) };
  },
});

/** Monday of the week; ISO 8601 weeks belong to the year of their Thursday. */
function isoWeekOf(day: Day): { year: number; week: number } {
  const thursday = day - isoWeekday(day) + 4;
  const { year } = civilOf(thursday);
  return { year, week: Math.floor((thursday - dayOf(year, 1, 1)) / 7) + 1 };
}

const two = (value: number): string => String(value).padStart(2, '0');
const four = (value: number): string => String(value).padStart(4, '0');

/** Months from the fiscal year's start to the January it is named by: a year is called by the one it ends in. */
const lead = (start: number): number => (13 - start) % 12;

/** Parts of the fiscal year, `parts` of them, cut at months. */
function fiscalUnit(parts: number, letter: string): PeriodUnit {
  const months = 12 / parts;
  const pattern = letter === '' ? /^FY(\d{4})$/ : new RegExp(`^FY(\\d{4})-${letter}(\\d)$`);
  return {
    key(day, start) {
      const { year, month } = civilOf(day);
      const index = year * 12 + month - 1 + lead(start);
      const part = Math.floor((index % 12) / months) + 1;
      return `FY${four(Math.floor(index / 12))}${letter === '' ? '' : `-${letter}${part}`}`;
    },
    range(text, start) {
      const match = pattern.exec(text);
      const part = Number(match?.[2] ?? 1);
      if (!match || part < 1 || part > parts) return undefined;
      const from = Number(match[1]) * 12 + (part - 1) * months - lead(start);
      const monthStart = (index: number): Day => dayOf(Math.floor(index / 12), (index % 12) + 1, 1);
      return { first: monthStart(from), last: monthStart(from + months) - 1 };
    },
  };
}

/** First day of the year of weeks: the Monday nearest the first day of the fiscal year, as ISO 8601 has it for January. */
function weekYearStart(year: number, start: number): Day {
  const index = year * 12 - lead(start);
  const fourth = dayOf(Math.floor(index / 12), (index % 12) + 1, 4);
  return fourth - isoWeekday(fourth) + 1;
}

/** The year of weeks that a day lies in, and the weeks before it there. */
function weekOf(day: Day, start: number): { year: number; week: number; weeks: number } {
  let year = Math.floor((civilOf(day).year * 12 + civilOf(day).month - 1 + lead(start)) / 12);
  if (day < weekYearStart(year, start)) year--;
  else if (day >= weekYearStart(year + 1, start)) year++;
  const first = weekYearStart(year, start);
  return { year, week: Math.floor((day - first) / 7), weeks: (weekYearStart(year + 1, start) - first) / 7 };
}

/** Weeks before each month of a quarter of thirteen: four, four and five; a fifty-third week lengthens the last month. */
const BEFORE_MONTH = [0, 4, 8];
const QUARTER_WEEKS = 13;

/** Parts of the year of weeks; `firstWeek` counts the weeks before part `index`, both from 0. */
function weekUnit(letter: string, parts: number, partOf: (week: number) => number, firstWeek: (part: number) => number): PeriodUnit {
  const pattern = letter === '' ? /^WY(\d{4})$/ : new RegExp(`^WY(\\d{4})-${letter}(\\d+)$`);
  const name = (year: number, part: number): string =>
    `WY${four(year)}${letter === '' ? '' : `-${letter}${parts > 9 ? two(part + 1) : part + 1}`}`;
  return {
    key(day, start) {
      const { year, week } = weekOf(day, start);
      return name(year, partOf(week));
    },
    range(text, start) {
      const match = pattern.exec(text);
      if (!match) return undefined;
      const [year, part] = [Number(match[1]), Number(match[2] ?? 1) - 1];
      const { weeks } = weekOf(weekYearStart(year, start), start);
      if (part < 0 || part >= (parts === 53 ? weeks : parts) || name(year, part) !== text) return undefined;
      const from = weekYearStart(year, start);
      const end = part + 1 >= parts ? weeks : firstWeek(part + 1);
      return { first: from + firstWeek(part) * 7, last: from + end * 7 - 1 };
    },
  };
}

const quarterOf = (week: number): number => Math.min(Math.floor(week / QUARTER_WEEKS), 3);
function monthOf(week: number): number {
  const quarter = quarterOf(week);
  const within = week - quarter * QUARTER_WEEKS;
  return quarter * 3 + (within < BEFORE_MONTH[1] ? 0 : within < BEFORE_MONTH[2] ? 1 : 2);
}

const units: Record<Period, PeriodUnit> = {
  year: monthsUnit(12, (year) => four(year), /^(\d{4})$/),
  half_year: monthsUnit(6, (year, half) => `${four(year)}-H${half}`, /^(\d{4})-H(\d)$/),
  quarter: monthsUnit(3, (year, quarter) => `${four(year)}-Q${quarter}`, /^(\d{4})-Q(\d)$/),
  month: monthsUnit(1, (year, month) => `${four(year)}-${two(month)}`, /^(\d{4})-(\d{2})$/),
  iso_week: {
    key(day) {
      const { year, week } = isoWeekOf(day);
      return `${four(year)}-W${two(week)}`;
    },
    range(text) {
      const match = /^(\d{4})-W(\d{2})$/.exec(text);
      if (!match) return undefined;
      const fourth = dayOf(Number(match[1]), 1, 4);
      const first = fourth - isoWeekday(fourth) + 1 + (Number(match[2]) - 1) * 7;
      return units.iso_week.key(first, 1) === text ? { first, last: first + 6 } : undefined;
    },
  },
  day: {
    key: isoDate,
    range(text) {
      const day = parseIsoDate(text);
      return day === undefined ? undefined : { first: day, last: day };
    },
  },
  weekday: { key: (day) => String(isoWeekday(day)), range: () => undefined },
  fiscal_year: fiscalUnit(1, ''),
  fiscal_half_year: fiscalUnit(2, 'H'),
  fiscal_quarter: fiscalUnit(4, 'Q'),
  week_year: weekUnit(
    '',
    1,
    () => 0,
    () => 0,
  ),
  week_quarter: weekUnit('Q', 4, quarterOf, (quarter) => quarter * QUARTER_WEEKS),
  week_month: weekUnit('M', 12, monthOf, (month) => Math.floor(month / 3) * QUARTER_WEEKS + BEFORE_MONTH[month % 3]),
  week: weekUnit(
    'W',
    53,
    (week) => week,
    (week) => week,
  ),
};

/**
 * The key of the period a day lies in: `2026`, `2026-H1`, `2026-Q2`, `2026-04`, `2026-W05` (ISO 8601), `2026-04-01`, `1`
 * for Monday; `FY2026-Q1` in the fiscal year that ends in 2026 and begins with month `yearStart`; `WY2026-M03` and
 * `WY2026-W11` where that year is cut into weeks by 4-4-5 (common practice, no source).
 */
export function periodKey(period: Period, day: Day, yearStart = 1): string {
  return units[period].key(day, yearStart);
}

/** First and last day of a period's key; undefined for a text that is no key of it, and for weekdays. */
export function periodRange(period: Period, key: string, yearStart = 1): DayRange | undefined {
  return units[period].range(key, yearStart);
}

/** The period of each of some days in a row: codes from 1, of keys in their order. */
export interface CodedPeriods {
  codes: Int32Array;
  keys: string[];
}

/** The periods of `days` days from `first` on. Works period by period, so that long calendars cost little. */
export function periodsOfDays(period: Period, first: Day, days: number, yearStart = 1): CodedPeriods {
  const codes = new Int32Array(days);
  if (period === 'weekday') {
    // Weekdays come round: their keys are ordered by the week, not by time.
    const week = Array.from({ length: Math.min(7, days) }, (_, index) => periodKey(period, first + index));
    const keys = [...week].sort();
    for (let index = 0; index < days; index++) codes[index] = keys.indexOf(week[index % 7]) + 1;
    return { codes, keys };
  }
  const keys: string[] = [];
  for (let index = 0; index < days;) {
    const key = periodKey(period, first + index, yearStart);
    const next = Math.min(days, periodRange(period, key, yearStart)!.last - first + 1);
    keys.push(key);
    codes.fill(keys.length, index, next);
    index = next;
  }
  return { codes, keys };
}

const MONTHS: Partial<Record<ShiftUnit, number>> = { year: 12, quarter: 3, month: 1 };
export type ShiftUnit = 'year' | 'quarter' | 'month' | 'week' | 'day';

/** Moves a day by some units; past the end of a month it is clamped to the month's last day. */
export function shiftDay(day: Day, amount: number, unit: ShiftUnit): Day {
  const months = MONTHS[unit];
  if (months === undefined) return day + amount * (unit === 'week' ? 7 : 1);
  const civil = civilOf(day);
  const index = civil.year * 12 + (civil.month - 1) + amount * months;
  const year = Math.floor(index / 12);
  const month = (((index % 12) + 12) % 12) + 1;
  return dayOf(year, month, Math.min(civil.day, daysInMonth(year, month)));
}

/**
 * Moves a range of days. Whole months stay whole, so that all of February 2025 stands against all 29 days of February
 * 2024 and the other way round; a part of a month moves day by day, its last day clamped.
 */
export function shiftRange(range: DayRange, amount: number, unit: ShiftUnit): DayRange {
  const last = shiftDay(range.last, amount, unit);
  const civil = civilOf(range.last);
  const isWhole = civilOf(range.first).day === 1 && civil.day === daysInMonth(civil.year, civil.month);
  if (MONTHS[unit] === undefined || !isWhole) return { first: shiftDay(range.first, amount, unit), last };
  const moved = civilOf(last);
  return { first: shiftDay(range.first, amount, unit), last: dayOf(moved.year, moved.month, daysInMonth(moved.year, moved.month)) };
}
