import type { Query, QueryResult } from '../engine/index.ts';
import { factNamed, linkTo, type CalendarDimension, type CalendarLevel, type Dataset } from '../model/index.ts';
import { dayLevel, daysOfMembers, type DateSpan } from './date-frames.ts';

/** The question whose answer tells which days a fact has records of; null where it has no dates of that calendar. */
export function spanQuestion(
  dataset: Dataset,
  fact: string,
  calendar: string,
): { query: Query; spanOf(answer: QueryResult): DateSpan | null } | null {
  const dimension = dataset.dimensions.find((one): one is CalendarDimension => one.kind === 'calendar' && one.name === calendar);
  const link = dimension && linkTo(factNamed(dataset, fact), dimension);
  const level: CalendarLevel | undefined = link && (dimension.levels.find(({ name }) => name === link.level) ?? dayLevel(dimension));
  if (!dimension || !level) return null;
  return {
    query: { fact, filter: null, levels: [level.name], sets: [[0]], aggregates: [] },
    spanOf({ members: [members], sets: [{ keys }] }) {
      const occurring = Array.from(keys[0], (code) => (code === 0 ? null : members[code - 1]));
      const ranges = daysOfMembers(level, dimension.yearStart ?? 1, occurring);
      return ranges.length === 0 ? null : { first: ranges[0].first, last: ranges.at(-1)!.last };
    },
  };
}
