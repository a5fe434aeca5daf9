import { isoDate, periodKey, periodLabel, PERIOD_WORDS, periodRange, type DayRange } from '../calendar/index.ts';
import { dayLevel } from '../crosstab/index.ts';
import {
  calendarsOf,
  periodChoiceSchema,
  type CalendarDimension,
  type CalendarLevel,
  type Dataset,
  type Filter,
  type Period,
  type PeriodChoice,
  type PromptOf,
  type PromptValue,
} from '../model/index.ts';
import type { DataDays, PromptKind } from './kind.ts';

/** Choices as texts: `month 2026-01 2026-03`, `last 3 month`, `to_date year`, `complete month`, a word each. */
export function periodChoiceText(choice: PeriodChoice): string[] {
  if ('from' in choice) return [choice.unit, choice.from, choice.to];
  if ('last' in choice) return ['last', String(choice.last), choice.unit];
  return 'toDate' in choice ? ['to_date', choice.toDate] : ['complete', choice.complete];
}

/** A choice as texts have it; null where they are none. */
export function readPeriodChoice([first, second, third]: readonly string[]): PeriodChoice | null {
  const written =
    first === 'last'
      ? { last: Number(second), unit: third }
      : first === 'to_date'
        ? { toDate: second }
        : first === 'complete'
          ? { complete: second }
          : { unit: first, from: second, to: third ?? second };
  return periodChoiceSchema.safeParse(written).data ?? null;
}

const calendarNamed = (dataset: Dataset, name: string): CalendarDimension | undefined =>
  calendarsOf(dataset).find((calendar) => calendar.name === name);

const levelOf = (calendar: CalendarDimension, period: Period): CalendarLevel | undefined =>
  calendar.levels.find((level) => level.period === period);

/** The last period of a kind that the data holds whole. */
function lastWhole(period: Period, { last }: DataDays, yearStart: number): DayRange {
  const around = periodRange(period, periodKey(period, last, yearStart), yearStart)!;
  return around.last <= last ? around : periodRange(period, periodKey(period, around.first - 1, yearStart), yearStart)!;
}

/** The days that a choice stands for: those of its periods, as the data goes. */
export function daysOfChoice(calendar: CalendarDimension, choice: PeriodChoice, days: DataDays): DayRange | null {
  const yearStart = calendar.yearStart ?? 1;
  if ('from' in choice) {
    const [from, to] = [periodRange(choice.unit, choice.from, yearStart), periodRange(choice.unit, choice.to, yearStart)];
    return from && to ? { first: Math.min(from.first, to.first), last: Math.max(from.last, to.last) } : null;
  }
  if ('last' in choice) {
    const end = lastWhole(choice.unit, days, yearStart);
    let { first } = end;
    for (let left = choice.last - 1; left > 0; left--)
      first = periodRange(choice.unit, periodKey(choice.unit, first - 1, yearStart), yearStart)!.first;
    return { first, last: end.last };
  }
  if ('toDate' in choice) {
    const { first } = periodRange(choice.toDate, periodKey(choice.toDate, days.last, yearStart), yearStart)!;
    return { first, last: days.last };
  }
  return { first: days.first, last: lastWhole(choice.complete, days, yearStart).last };
}

/** Weekdays come round and are no stretch of time. */
const isStretch = (choice: PeriodChoice): boolean => !Object.values(choice).includes('weekday');

export const periodKind: PromptKind<PromptOf<'period'>> = {
  kind: 'period',
  label: 'Period',
  about: 'A year, quarter or month, from one to another, the last complete ones, or to date.',
  names: () => ({ fields: [], measures: [] }),
  faults: ({ calendar }, dataset) => (calendarNamed(dataset, calendar) ? [] : [`There is no calendar called "${calendar}".`]),
  title: ({ calendar }, dataset) => calendarNamed(dataset, calendar)?.label ?? calendar,
  initial: ({ initial }) => (initial ? periodChoiceText(initial) : []),
  startingWith: (own, choice) => ({ ...own, initial: readPeriodChoice(choice) }),
  isChoice({ calendar }, choice, dataset) {
    if (choice.length === 0) return true;
    const read = readPeriodChoice(choice);
    const own = calendarNamed(dataset, calendar);
    if (!read || !own || !isStretch(read)) return false;
    if (!('from' in read)) return true;
    return [read.from, read.to].every((key) => periodRange(read.unit, key, own.yearStart) !== undefined);
  },
  condition({ calendar: name }, choice, { dataset, days }) {
    const calendar = calendarNamed(dataset, name);
    const read = readPeriodChoice(choice);
    const range = calendar && read && daysOfChoice(calendar, read, days);
    if (!range) return null;
    // Periods by their own level, so that what moves by weeks or fiscal years goes on doing so.
    const unit = 'from' in read || 'last' in read ? read.unit : 'complete' in read ? read.complete : undefined;
    const level = (unit && levelOf(calendar, unit)) ?? dayLevel(calendar);
    if (!level) return null;
    const key = (day: number): string => (level.period === 'day' ? isoDate(day) : periodKey(level.period, day, calendar.yearStart ?? 1));
    const filter: Filter = { op: 'between', field: level.name, low: key(range.first), high: key(range.last) };
    return filter;
  },
  ends({ calendar: name }, choice, context) {
    const calendar = context && calendarNamed(context.dataset, name);
    const read = readPeriodChoice(choice);
    const range = calendar && read && daysOfChoice(calendar, read, context.days);
    const end = (day: number | undefined): PromptValue => ({ type: 'text', value: day === undefined ? null : isoDate(day) });
    return { from: end(range?.first), to: end(range?.last) };
  },
  words(_, choice, { locale }) {
    const read = readPeriodChoice(choice);
    if (!read) return 'all dates';
    if ('from' in read) {
      const [from, to] = [read.from, read.to].sort();
      const label = (key: string): string => periodLabel(read.unit, key, locale);
      return from === to ? label(from) : `${label(from)} to ${label(to)}`;
    }
    if ('last' in read) {
      const { label, plural } = PERIOD_WORDS[read.unit];
      return read.last === 1 ? `the last complete ${label}` : `the last ${read.last} complete ${plural}`;
    }
    if ('toDate' in read) return `the ${PERIOD_WORDS[read.toDate].label} to date`;
    return `everything up to the last full ${PERIOD_WORDS[read.complete].label}`;
  },
  create({ id, dataset, about }) {
    const calendar = about ? calendarNamed(dataset, about) : calendarsOf(dataset)[0];
    return calendar ? { id, kind: 'period', calendar: calendar.name, initial: null } : null;
  },
};
