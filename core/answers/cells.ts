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
} from '../crosstab/index.ts';
import type { QueryResult } from '../engine/index.ts';
import { parseIsoDate, type ShiftUnit } from '../calendar/index.ts';
import { allOf, axisOver, calendarsOf, linkTo, type Crosstab, type Fact, type Filter } from '../model/index.ts';
import type { AnswerContext } from './context.ts';
import type { AnswerData } from './data.ts';

export type CubeSpec = Pick<Crosstab, 'side' | 'top' | 'cells' | 'filter'>;

/** A cross-tab of measures alone, for questions about single cells and their members. */
export function plainCrosstab(measures: string[], side: string[] = []): CubeSpec {
  return { side: axisOver(side, { total: 'always' }), top: axisOver([]), cells: measures.map((measure) => ({ measure })), filter: null };
}

/** Asks the planned queries. */
export function askParts(data: AnswerData, plan: CrosstabPlan): Promise<(QueryResult | null)[]> {
  return Promise.all(plan.parts.map((part) => (part.query ? data.query(part.query) : Promise.resolve(null))));
}

/** Asks the planned queries and puts the answers together. */
export async function askCube(data: AnswerData, plan: CrosstabPlan): Promise<Cube> {
  return new Cube(plan, await askParts(data, plan), { side: null, top: null });
}

/** Plans and asks in one go. */
export function cubeFor(
  { dataset, data }: AnswerContext,
  spec: CubeSpec,
  scope: Filter | null,
  depths: Depths,
  extra: string[] = [],
): Promise<Cube> {
  return askCube(data, planCrosstab(dataset, spec, scope, depths, extra));
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
  context: AnswerContext,
  measures: string[],
  filter: Filter | null,
  back?: Back,
): Promise<Map<string, MeasuredValue>> {
  const plan = planCrosstab(context.dataset, plainCrosstab([...new Set(measures)]), filter, { side: 0, top: 0 });
  if (back) for (const part of plan.parts) await moveBack(context, part, back);
  const cube = await askCube(context.data, plan);
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
export async function measureUnder(context: AnswerContext, measure: string, filter: Filter | null, back?: Back): Promise<MeasuredValue> {
  const [value] = (await measuresUnder(context, [measure], filter, back)).values();
  return value;
}

async function moveBack(context: AnswerContext, part: FactPart, back: Back): Promise<void> {
  if (!part.query) return;
  const moved = await movedFilter(context, part.fact, part.query.filter, back);
  if (typeof moved !== 'string') {
    part.query.filter = moved;
    return;
  }
  part.query = null;
  part.reason = moved;
}

/** A filter with its conditions on dates moved back; the reason where the fact cannot answer by those days. */
async function movedFilter(
  { dataset, data }: AnswerContext,
  fact: Fact,
  filter: Filter | null,
  { amount, unit }: Back,
): Promise<Filter | null | string> {
  const calendars = calendarsOf(dataset).filter((calendar) => linkTo(fact, calendar) !== undefined);
  const split = calendars.map((calendar) => ({ calendar, ...splitDates(dataset, fact, calendar, filter) }));
  // Conditions on other dates of the same records stay as they are.
  const chosen = split.find(({ dates, mixed }) => dates !== null || mixed) ?? split[0];
  const day = chosen?.calendar.levels.find((level) => level.period === 'day');
  if (!chosen || !day) return `${fact.label} have no dates to go back by.`;
  if (chosen.mixed) return 'A condition speaks of dates and of something else at once, so there are no days to go back from.';
  const days = ((await data.members([day.name], chosen.dates)) ?? []).map(([key]) => parseIsoDate(key!)!).sort((a, b) => a - b);
  const ranges = shiftRanges(runsOf(days), -amount, unit);
  const moved = daysFilter(dataset, fact, chosen.calendar, ranges);
  // Part of a period against the whole of another would be no comparison.
  if (!moved || ranges.some((range) => range.first < data.calendar.first))
    return `The data does not reach back over all of the same days, ${amount === 1 ? 'a' : amount} ${unit}${amount === 1 ? '' : 's'} before.`;
  return allOf(chosen.rest, moved);
}
