import {
  Cube,
  daysFilter,
  planCrosstab,
  runsOf,
  shiftRanges,
  splitDates,
  type CrosstabPlan,
  type Depths,
} from '@bold-compass/core/crosstab';
import { parseIsoDate, type ShiftUnit } from '@bold-compass/core/calendar';
import { allOf, type CalendarDimension, type Crosstab, type Fact, type Filter } from '@bold-compass/core/model';
import type { Desk } from '../data/index.ts';

export type CubeSpec = Pick<Crosstab, 'side' | 'top' | 'cells' | 'filter'>;

const axis = (fields: string[]): Crosstab['side'] => ({
  fields,
  total: 'always',
  openLevels: 0,
  order: { by: 'label', direction: 'asc' },
  hideEmpty: true,
});

/** A cross-tab of one measure, for questions about single cells. */
export function singleMeasure(measure: string, side: string[] = []): CubeSpec {
  return { side: axis(side), top: axis([]), cells: [{ measure }], filter: null };
}

/** Asks the planned queries and puts the answers together. */
export async function askCube(
  desk: Desk,
  plan: CrosstabPlan,
  members: { side: (string | null)[][] | null; top: (string | null)[][] | null } = { side: null, top: null },
): Promise<Cube> {
  const results = await Promise.all(plan.parts.map((part) => (part.query ? desk.query(part.query) : null)));
  return new Cube(plan, results, members);
}

/** Plans and asks in one go. */
export function cubeFor(desk: Desk, spec: CubeSpec, scope: Filter | null, depths: Depths, extra: string[] = []): Promise<Cube> {
  return askCube(desk, planCrosstab(desk.dataset, spec, scope, depths, extra));
}

/** One value with the reason why there is none. */
export interface MeasuredValue {
  value: number;
  reason: string;
  /** Records counted, per fact. */
  records: { fact: Fact; count: number }[];
}

/** The value of a measure under a condition, optionally over the same days some periods back. */
export async function measureUnder(
  desk: Desk,
  measure: string,
  filter: Filter | null,
  back?: { amount: number; unit: ShiftUnit },
): Promise<MeasuredValue> {
  const plan = planCrosstab(desk.dataset, singleMeasure(measure), filter, { side: 0, top: 0 });
  if (back) {
    for (const part of plan.parts) {
      if (!part.query) continue;
      const moved = movedFilter(desk, part.fact, part.query.filter, back);
      if (moved === undefined) {
        part.reason = `The data does not reach back over all of the same days, ${back.amount === 1 ? 'a' : back.amount} ${back.unit}${back.amount === 1 ? '' : 's'} before.`;
        part.query = null;
      } else part.query.filter = moved;
    }
  }
  const cube = await askCube(desk, plan);
  const counts = await Promise.all(
    plan.parts.map((part) => (part.query ? desk.query({ ...part.query, aggregates: [], sets: [[]] }) : null)),
  );
  const value = cube.value(measure, 0, 0);
  return {
    value,
    reason: plan.parts.find((part) => part.reason)?.reason ?? (Number.isNaN(value) ? 'No records stand behind this.' : ''),
    records: plan.parts.map((part, index) => ({ fact: part.fact, count: counts[index]?.sets[0].records[0] ?? 0 })),
  };
}

/** A filter with its conditions on dates moved back; undefined where the fact cannot answer by those days. */
function movedFilter(
  desk: Desk,
  fact: Fact,
  filter: Filter | null,
  { amount, unit }: { amount: number; unit: ShiftUnit },
): Filter | null | undefined {
  const calendar = desk.dataset.dimensions.find((dimension): dimension is CalendarDimension => dimension.kind === 'calendar');
  const day = calendar?.levels.find((level) => level.period === 'day');
  if (!calendar || !day) return undefined;
  const { dates, rest } = splitDates(desk.dataset, filter);
  const days = (desk.members([day.name], dates) ?? []).map(([key]) => parseIsoDate(key!)!).sort((a, b) => a - b);
  const ranges = shiftRanges(runsOf(days), -amount, unit);
  // Part of a period against the whole of another would be no comparison.
  if (ranges.some((range) => range.first < desk.calendar.first)) return undefined;
  const moved = daysFilter(desk.dataset, fact, calendar, ranges);
  return moved ? allOf(rest, moved) : undefined;
}
