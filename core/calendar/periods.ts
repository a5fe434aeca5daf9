import type { Period } from '../model/index.ts';
import { civilOf, dayOf, daysInMonth, isoDate, isoWeekday, parseIsoDate, type Day } from './days.ts';

export interface DayRange {
  first: Day;
  last: Day;
}

/** One way of cutting time: its key for a day, and the days a key stands for. */
interface PeriodUnit {
  key(day: Day): string;
  /** The days of a key; undefined where the text is no key of this unit or the unit names no range (weekdays). */
  range(key: string): DayRange | undefined;
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

const units: Record<Period, PeriodUnit> = {
  year: monthsUnit(12, (year) => String(year).padStart(4, '0'), /^(\d{4})$/),
  half_year: monthsUnit(6, (year, half) => `${year}-H${half}`, /^(\d{4})-H(\d)$/),
  quarter: monthsUnit(3, (year, quarter) => `${year}-Q${quarter}`, /^(\d{4})-Q(\d)$/),
  month: monthsUnit(1, (year, month) => `${year}-${two(month)}`, /^(\d{4})-(\d{2})$/),
  iso_week: {
    key(day) {
      const { year, week } = isoWeekOf(day);
      return `${year}-W${two(week)}`;
    },
    range(text) {
      const match = /^(\d{4})-W(\d{2})$/.exec(text);
      if (!match) return undefined;
      const fourth = dayOf(Number(match[1]), 1, 4);
      const first = fourth - isoWeekday(fourth) + 1 + (Number(match[2]) - 1) * 7;
      return units.iso_week.key(first) === text ? { first, last: first + 6 } : undefined;
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
};

/** The key of the period a day lies in: `2026`, `2026-H1`, `2026-Q2`, `2026-04`, `2026-W05` (ISO 8601), `2026-04-01`, `1` for Monday. */
export function periodKey(period: Period, day: Day): string {
  return units[period].key(day);
}

/** First and last day of a period's key; undefined for a text that is no key of it, and for weekdays. */
export function periodRange(period: Period, key: string): DayRange | undefined {
  return units[period].range(key);
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
 * Moves a range of days. A range that ends with its month ends with a month after moving too, so that February 2024
 * stands against the whole of February 2023 and the other way round.
 */
export function shiftRange(range: DayRange, amount: number, unit: ShiftUnit): DayRange {
  const last = shiftDay(range.last, amount, unit);
  const civil = civilOf(range.last);
  const endsMonth = MONTHS[unit] !== undefined && civil.day === daysInMonth(civil.year, civil.month);
  if (!endsMonth) return { first: shiftDay(range.first, amount, unit), last };
  const moved = civilOf(last);
  return { first: shiftDay(range.first, amount, unit), last: dayOf(moved.year, moved.month, daysInMonth(moved.year, moved.month)) };
}
