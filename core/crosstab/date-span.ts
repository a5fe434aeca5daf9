import type { DayRange } from '../calendar/index.ts';
import type { Query, QueryResult } from '../engine/index.ts';
import { factNamed, linkTo, type CalendarDimension, type CalendarLevel, type Dataset } from '../model/index.ts';
import { dayLevel, daysOfMembers, type DateSpan } from './date-frames.ts';

/** A question about the days of a fact's records, and what its answer tells. */
interface SpanQuestion {
  query: Query;
  spanOf(answer: QueryResult): DateSpan | null;
  /** The days that members of its level stand for, in order; the periods where the fact is kept by longer ones. */
  daysOf(members: readonly (string | null)[]): DayRange[];
}

/** The question whose answer tells which days a fact has records of; null where it has no dates of that calendar. */
export function spanQuestion(dataset: Dataset, fact: string, calendar: string): SpanQuestion | null {
  const dimension = dataset.dimensions.find((one): one is CalendarDimension => one.kind === 'calendar' && one.name === calendar);
  const link = dimension && linkTo(factNamed(dataset, fact), dimension);
  const level: CalendarLevel | undefined = link && (dimension.levels.find(({ name }) => name === link.level) ?? dayLevel(dimension));
  if (!dimension || !level) return null;
  const yearStart = dimension.yearStart ?? 1;
  const occurring = ({ members: [members], sets: [{ keys }] }: QueryResult): (string | null)[] =>
    Array.from(keys[0], (code) => (code === 0 ? null : members[code - 1]));
  return {
    query: { fact, filter: null, levels: [level.name], sets: [[0]], aggregates: [] },
    spanOf(answer) {
      const ranges = daysOfMembers(level, yearStart, occurring(answer));
      return ranges.length === 0 ? null : { first: ranges[0].first, last: ranges.at(-1)!.last };
    },
    daysOf: (days) => days.flatMap((day) => daysOfMembers(level, yearStart, [day])).sort((a, b) => a.first - b.first),
  };
}
