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
  }
}
