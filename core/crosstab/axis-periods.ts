import { periodRange, type DayRange } from '../calendar/index.ts';
import type { Cell } from '../formula/index.ts';
import { aggregateTraits, factNamed, type Dataset, type Filter } from '../model/index.ts';
import { datesOfCells, periodOf } from './date-frames.ts';
import { dateQuestion } from './moved-dates.ts';
import type { PlanData } from './plan-data.ts';

/** A period along an axis, among those that conditions on dates and the data leave. */
export interface AxisPeriod {
  /** Its members, level by level. */
  path: string[];
  range: DayRange;
  /** Whether all of its days are left, and the fact is complete for them. */
  isWhole: boolean;
}

/**
 * The periods of some levels of a calendar in which a fact can have records under a condition, in order, each with whether it is
 * whole; null where the levels are not all of one calendar that the fact is linked to, or its dates cannot be told. Periods that
 * go on after the last day of the data are there as well.
 */
export async function axisPeriods(
  data: PlanData,
  dataset: Dataset,
  factName: string,
  fields: readonly string[],
  filter: Filter | null,
): Promise<AxisPeriod[] | null> {
  const fact = factNamed(dataset, factName);
  const found = await dateQuestion(data, dataset, fact, fields, filter, []);
  if (typeof found === 'string' || fields.length === 0) return null;
  const { question } = found;
  const { calendar, days, span } = question;
  const levels = fields.map((field) => periodOf(dataset, calendar, field));
  const own = levels[levels.length - 1];
  if (!own || levels.includes(undefined)) return null;
  const lastDay = Math.max(span.last, data.calendar.first + data.calendar.days - 1);
  return datesOfCells(question, fields).map(({ keys }) => {
    const range = periodRange(own.period, keys[keys.length - 1], calendar.yearStart)!;
    const left = days.reduce((sum, { first, last }) => sum + Math.max(0, Math.min(last, range.last) - Math.max(first, range.first) + 1), 0);
    return { path: keys, range, isWhole: left === range.last - range.first + 1 && range.first >= span.first && range.last <= lastDay };
  });
}

/** Whether a measure is a sum or a count, or made of these so that it is zero where there are no records. */
export function isZeroWithoutRecords(cell: Cell): boolean {
  if (cell.kind === 'aggregate') return aggregateTraits(cell.call.fn).counts || aggregateTraits(cell.call.fn).additive;
  if (cell.kind === 'measure') return isZeroWithoutRecords(cell.cell);
  if (cell.kind !== 'apply') return false;
  const [first, second] = cell.args;
  switch (cell.fn) {
    case 'negate':
      return isZeroWithoutRecords(first);
    case '+':
    case '-':
      return cell.args.every(isZeroWithoutRecords);
    case '*':
      return (
        [first, second].some(isZeroWithoutRecords) && [first, second].every((arg) => arg.kind === 'constant' || isZeroWithoutRecords(arg))
      );
    case '/':
      return isZeroWithoutRecords(first) && second.kind === 'constant' && second.value !== 0;
    default:
      return false;
  }
}
