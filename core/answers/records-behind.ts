import { dayLabel, isoDate, periodKey, periodRange, type DayRange } from '../calendar/index.ts';
import {
  dayLevel,
  isOfCell,
  movingCalendar,
  planCell,
  resolvePlan,
  splitDates,
  type CellConditions,
  type CrosstabPlan,
  type FactPart,
} from '../crosstab/index.ts';
import { allOf, linkTo, type CalendarDimension, type CalendarLevel, type Dataset, type Fact, type Filter } from '../model/index.ts';
import type { AnswerContext } from './context.ts';

/** Records that a figure is calculated from: those of a fact in the cell, or on other dates that its formula goes to. */
interface RecordsBehind {
  /** Tells them apart from others behind the same figure. */
  key: string;
  fact: Fact;
  /** "1 Jan 2025 to 31 Oct 2025", where the dates are others than the cell's; else empty. */
  dates: string;
  filter: Filter | null;
}

/** The periods that some ranges of days touch, as members of a level of a calendar. */
function periodsIn(ranges: readonly DayRange[], { period }: CalendarLevel, yearStart: number): string[] {
  const members = new Set<string>();
  for (const { first, last } of ranges)
    for (let day = first; day <= last; day = periodRange(period, periodKey(period, day, yearStart), yearStart)!.last + 1)
      members.add(periodKey(period, day, yearStart));
  return [...members];
}

/** That a record of a fact is dated in some ranges of days. */
function datedIn(fact: Fact, calendar: CalendarDimension, ranges: readonly DayRange[]): Filter | null {
  const level = calendar.levels.find(({ name }) => name === linkTo(fact, calendar)?.level) ?? dayLevel(calendar);
  if (!level) return null;
  if (level.period !== 'day') return { op: 'in', field: level.name, values: periodsIn(ranges, level, calendar.yearStart ?? 1) };
  const items = ranges.map(({ first, last }): Filter => ({ op: 'between', field: level.name, low: isoDate(first), high: isoDate(last) }));
  return items.length === 1 ? items[0] : { op: 'or', items };
}

/** "1 Jan 2025 to 31 Mar 2025, 1 Oct 2025" */
export const datesInWords = (ranges: readonly DayRange[], locale: string): string =>
  ranges.map(({ first, last }) => [...new Set([first, last])].map((day) => dayLabel(day, locale, 'short')).join(' to ')).join(', ');

/** The conditions of a cell with other dates in the place of its own. */
function onOtherDates(dataset: Dataset, fact: Fact, cell: Filter | null, ranges: readonly DayRange[]): Filter | null {
  const calendar = movingCalendar(dataset, fact, [], cell);
  return calendar ? allOf(splitDates(dataset, fact, calendar, cell).rest, datedIn(fact, calendar, ranges)) : cell;
}

/** The parts of a plan for one measure. */
const partsOf = ({ measures, parts }: CrosstabPlan, measure: string): FactPart[] =>
  (measures.find(({ name }) => name === measure)?.parts ?? []).map((part) => parts[part]);

/**
 * The records that a measure is calculated from under the conditions of a cell, those of the cell first. What a formula takes
 * from other cells stands behind these.
 */
export async function recordsBehindCell(
  { dataset, data, locale }: AnswerContext,
  measure: string,
  { filter: cell, column }: CellConditions,
): Promise<RecordsBehind[]> {
  const plan = planCell(dataset, measure, { filter: cell, column });
  await resolvePlan(data, plan);
  const parts = partsOf(plan, measure);
  const facts = [...new Set(parts.map(({ fact }) => fact))];
  return facts.flatMap((fact) => {
    const own = parts.filter((part) => part.fact === fact);
    const moved = own.flatMap((part) => (isOfCell(part.context) && part.dates && part.dates.moved.length > 0 ? [part.dates.moved] : []));
    const isHere = own.some((part) => part.context.moves.length === 0) || moved.length === 0;
    return [
      ...(isHere ? [{ key: fact.name, fact, dates: '', filter: cell }] : []),
      ...moved.map((ranges) => {
        const dates = datesInWords(ranges, locale);
        return { key: `${fact.name}: ${dates}`, fact, dates, filter: onOtherDates(dataset, fact, cell, ranges) };
      }),
    ];
  });
}
