import {
  Cube,
  daysFilter,
  planCrosstab,
  runsOf,
  shiftRanges,
  splitDates,
  type CrosstabPlan,
  type Depths,
  type FactPart,
} from '@bold-compass/core/crosstab';
import type { QueryResult } from '@bold-compass/core/engine';
import { parseIsoDate, type ShiftUnit } from '@bold-compass/core/calendar';
import { allOf, axisOver, linkTo, type CalendarDimension, type Crosstab, type Fact, type Filter } from '@bold-compass/core/model';
import type { Desk } from '../data/index.ts';

export type CubeSpec = Pick<Crosstab, 'side' | 'top' | 'cells' | 'filter'>;

/** A cross-tab of measures alone, for questions about single cells and their members. */
export function plainCrosstab(measures: string[], side: string[] = []): CubeSpec {
  return { side: axisOver(side, { total: 'always' }), top: axisOver([]), cells: measures.map((measure) => ({ measure })), filter: null };
}

/** Asks the planned queries. */
export function askParts(desk: Desk, plan: CrosstabPlan): Promise<(QueryResult | null)[]> {
  return Promise.all(plan.parts.map((part) => (part.query ? desk.query(part.query) : null)));
}

/** Asks the planned queries and puts the answers together. */
export async function askCube(desk: Desk, plan: CrosstabPlan): Promise<Cube> {
  return new Cube(plan, await askParts(desk, plan), { side: null, top: null });
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

interface Back {
  amount: number;
  unit: ShiftUnit;
}

/**
 * The values of measures under a condition, optionally over the same days some periods back. Each fact is asked once,
 * however many measures it is in.
 */
export async function measuresUnder(
  desk: Desk,
  measures: string[],
  filter: Filter | null,
  back?: Back,
): Promise<Map<string, MeasuredValue>> {
  const plan = planCrosstab(desk.dataset, plainCrosstab([...new Set(measures)]), filter, { side: 0, top: 0 });
  if (back) plan.parts.forEach((part) => moveBack(desk, part, back));
  const cube = await askCube(desk, plan);
  return new Map(
    plan.measures.map(({ name, slots }) => {
      const used = [...new Set(slots.map((slot) => slot.part))];
      const value = cube.value(name, 0, 0);
      const unanswered = used.map((part) => plan.parts[part].reason).find((reason) => reason !== '');
      const reason = unanswered ?? (Number.isNaN(value) ? 'No records stand behind this.' : '');
      return [name, { value, reason, records: used.map((part) => ({ fact: plan.parts[part].fact, count: cube.partRecords(part, 0, 0) })) }];
    }),
  );
}

/** The value of one measure under a condition. */
export async function measureUnder(desk: Desk, measure: string, filter: Filter | null, back?: Back): Promise<MeasuredValue> {
  const [value] = (await measuresUnder(desk, [measure], filter, back)).values();
  return value;
}

function moveBack(desk: Desk, part: FactPart, back: Back): void {
  if (!part.query) return;
  const moved = movedFilter(desk, part.fact, part.query.filter, back);
  if (typeof moved !== 'string') {
    part.query.filter = moved;
    return;
  }
  part.query = null;
  part.reason = moved;
}

/** A filter with its conditions on dates moved back; the reason where the fact cannot answer by those days. */
function movedFilter(desk: Desk, fact: Fact, filter: Filter | null, { amount, unit }: Back): Filter | null | string {
  const calendars = desk.dataset.dimensions.filter(
    (dimension): dimension is CalendarDimension => dimension.kind === 'calendar' && linkTo(fact, dimension) !== undefined,
  );
  const split = calendars.map((calendar) => ({ calendar, ...splitDates(desk.dataset, fact, calendar, filter) }));
  // Conditions on other dates of the same records stay as they are.
  const chosen = split.find(({ dates, mixed }) => dates !== null || mixed) ?? split[0];
  const day = chosen?.calendar.levels.find((level) => level.period === 'day');
  if (!chosen || !day) return `${fact.label} have no dates to go back by.`;
  if (chosen.mixed) return 'A condition speaks of dates and of something else at once, so there are no days to go back from.';
  const days = (desk.members([day.name], chosen.dates) ?? []).map(([key]) => parseIsoDate(key!)!).sort((a, b) => a - b);
  const ranges = shiftRanges(runsOf(days), -amount, unit);
  const moved = daysFilter(desk.dataset, fact, chosen.calendar, ranges);
  // Part of a period against the whole of another would be no comparison.
  if (!moved || ranges.some((range) => range.first < desk.calendar.first))
    return `The data does not reach back over all of the same days, ${amount === 1 ? 'a' : amount} ${unit}${amount === 1 ? '' : 's'} before.`;
  return allOf(chosen.rest, moved);
}
