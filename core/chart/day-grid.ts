import { isoDate, isoWeekday, parseIsoDate } from '../calendar/index.ts';
import { drawnSeries, type ChartFigure } from './figure.ts';
import type { Series } from './series.ts';

/** A day in its week: weeks are columns and weekdays rows, as in a calendar that lies. */
export interface GridDay {
  category: number;
  /** Weeks since the first one of its year, or of all days where these are within a year. */
  column: number;
  /** From Monday, 0, to Sunday, 6 (ISO 8601). */
  weekday: number;
  /** Which of the years that stand one below the other. */
  year: number;
  value: number | null;
}

export interface DayGrid {
  series: Series | null;
  days: GridDay[];
  /** The years that stand one below the other; one without a name where all days are within a year. */
  years: string[];
  columns: number;
  /** Where months begin: the column of their first day, in the last of the years that have it. */
  months: { column: number; month: number }[];
}

const [WEEK, MOST_WEEKS] = [7, 54];
/** Days since Monday. */
const weekdayOf = (day: number): number => isoWeekday(day) - 1;
const mondayOf = (day: number): number => day - weekdayOf(day);
const firstOfYear = (day: number): number => parseIsoDate(`${isoDate(day).slice(0, 4)}-01-01`)!;

/** The days along the axis in the weeks they lie in, by the first series. What is no day is left out. */
export function dayGridOf(figure: ChartFigure): DayGrid {
  const [series = null] = drawnSeries(figure);
  const known = figure.categories.flatMap(({ header }, category) => {
    const day = parseIsoDate(header?.path.at(-1) ?? '');
    return day === undefined ? [] : [{ day, category, value: series?.values[category] ?? null }];
  });
  if (known.length === 0) return { series, days: [], years: [''], columns: 0, months: [] };
  const [least, most] = known.reduce(([low, high], { day }) => [Math.min(low, day), Math.max(high, day)], [Infinity, -Infinity]);
  const isOne = (mondayOf(most) - mondayOf(least)) / WEEK < MOST_WEEKS;
  const names = isOne ? [''] : [...new Set(known.map(({ day }) => isoDate(day).slice(0, 4)))].sort();
  const startOf = (day: number): number => mondayOf(isOne ? least : firstOfYear(day));
  const days = known.map(({ day, category, value }): GridDay => ({
    ...{ category, value, weekday: weekdayOf(day), column: (mondayOf(day) - startOf(day)) / WEEK },
    year: isOne ? 0 : names.indexOf(isoDate(day).slice(0, 4)),
  }));
  const months = new Map<string, { year: number; column: number; month: number }>();
  for (const [index, { day }] of known.entries()) {
    const { year, column } = days[index];
    const key = isoDate(day).slice(...(isOne ? [0, 7] : [5, 7]));
    const first = months.get(key);
    if (!first || year > first.year || (year === first.year && column < first.column))
      months.set(key, { year, column, month: Number(isoDate(day).slice(5, 7)) });
  }
  return {
    series,
    days,
    years: names,
    columns: Math.max(...days.map(({ column }) => column)) + 1,
    months: [...months.values()].map(({ column, month }) => ({ column, month })),
  };
}
