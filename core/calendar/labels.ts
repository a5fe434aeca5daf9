import type { Period } from '../model/index.ts';
import { dayOf, type Day } from './days.ts';
import { periodRange } from './periods.ts';

const cache = new Map<string, Intl.DateTimeFormat>();

function formatter(locale: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const id = `${locale}|${JSON.stringify(options)}`;
  let known = cache.get(id);
  if (!known) {
    known = new Intl.DateTimeFormat(locale, { ...options, timeZone: 'UTC' });
    cache.set(id, known);
  }
  return known;
}

const asDate = (day: Day): Date => new Date(day * 86_400_000);

/** A day in words: "31 October 2026" in British English. */
export function dayLabel(day: Day, locale: string, style: 'long' | 'short' = 'long'): string {
  return formatter(locale, { day: 'numeric', month: style, year: 'numeric' }).format(asDate(day));
}

/**
 * A period's key in words. Under a heading that already names the year, `short` leaves the year out:
 * "Q2" beside "Q2 2026", "April" beside "April 2026".
 */
export function periodLabel(period: Period, key: string, locale: string, short = false): string {
  const range = periodRange(period, key);
  switch (period) {
    case 'weekday':
      return formatter(locale, { weekday: 'long' }).format(asDate(dayOf(2024, 1, Number(key))));
    case 'month':
      if (!range) return key;
      return formatter(locale, short ? { month: 'long' } : { month: 'long', year: 'numeric' }).format(asDate(range.first));
    case 'day':
      if (!range) return key;
      return short
        ? formatter(locale, { day: 'numeric', month: 'short' }).format(asDate(range.first))
        : dayLabel(range.first, locale, 'short');
    case 'half_year':
    case 'quarter': {
      const [year, part] = key.split('-');
      return part === undefined || short ? (part ?? key) : `${part} ${year}`;
    }
    case 'iso_week': {
      const [year, week] = key.split('-W');
      return week === undefined ? key : short ? `Week ${Number(week)}` : `Week ${Number(week)}, ${year}`;
    }
    case 'year':
      return key;
    default: {
      // The fiscal year and the year of weeks: "FY2026", "FY2026-Q1", "WY2026-M03".
      const [year, part] = key.replace(/^[FW]Y/, '').split('-');
      const name = period.startsWith('fiscal') ? `Fiscal ${year}` : `Weeks of ${year}`;
      if (part === undefined) return name;
      const words = part.replace(/^M0?/, 'Month ').replace(/^W0?/, 'Week ');
      return short ? words : `${words}, ${name.toLowerCase()}`;
    }
  }
}

/** What each period is called, one and several, in the order they are offered. */
export const PERIOD_WORDS: Record<Period, { label: string; plural: string }> = {
  year: { label: 'year', plural: 'years' },
  half_year: { label: 'half-year', plural: 'half-years' },
  quarter: { label: 'quarter', plural: 'quarters' },
  month: { label: 'month', plural: 'months' },
  iso_week: { label: 'ISO week', plural: 'ISO weeks' },
  day: { label: 'day', plural: 'days' },
  weekday: { label: 'weekday', plural: 'weekdays' },
  fiscal_year: { label: 'fiscal year', plural: 'fiscal years' },
  fiscal_half_year: { label: 'fiscal half-year', plural: 'fiscal half-years' },
  fiscal_quarter: { label: 'fiscal quarter', plural: 'fiscal quarters' },
  week_year: { label: 'year of weeks', plural: 'years of weeks' },
  week_quarter: { label: 'quarter of 13 weeks', plural: 'quarters of 13 weeks' },
  week_month: { label: 'month of 4-4-5 weeks', plural: 'months of 4-4-5 weeks' },
  week: { label: 'week of the year of weeks', plural: 'weeks of the year of weeks' },
};
