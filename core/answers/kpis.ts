import type { KpiResponse, SpreadRequest, SpreadResponse } from '../api/index.ts';
import { summarise } from '../crosstab/index.ts';
import { attainment, stateAt, stepsOf, targetName, type Limits, type State } from '../indicators/index.ts';
import { allOf, type Filter, type Indicator, type Kpi, type KpiStrip, type SectionFigure } from '../model/index.ts';
import { withMarkMeasures } from '../marks/index.ts';
import { cubeFor, measuresUnder, plainCrosstab, type MeasuredValue } from './cells.ts';
import { labelsFor, naturalOrder, type AnswerContext } from './context.ts';
import { judged, spreadLimits } from './marks/index.ts';
import { orNull } from './numbers.ts';

type RollUp = NonNullable<KpiResponse[number]['rollUp']>;

/** Members off course that are listed. */
const MOST_LISTED = 40;

/** Values of some measures for each member of a field, sorted in the members' order. */
async function byMember(
  context: AnswerContext,
  field: string,
  measures: string[],
  filter: Filter | null,
): Promise<{ member: string | null; values: number[] }[]> {
  const cube = await cubeFor(context, plainCrosstab([...new Set(measures)], [field]), filter, { side: 1, top: 0 });
  const { compare } = await naturalOrder(context, field);
  return cube.side.nodes[0].children
    .map((id) => ({ member: cube.side.nodes[id].member, values: measures.map((measure) => cube.value(measure, id, 0)) }))
    .filter(({ values }) => values.some((value) => !Number.isNaN(value)))
    .sort((a, b) => compare(a.member, b.member));
}

/** What a KPI as a whole is held against, where that is no measure. */
async function wholeTarget(context: AnswerContext, { measure, indicator }: Kpi, filter: Filter | null): Promise<MeasuredValue> {
  const plain = (value: number, reason = ''): MeasuredValue => ({ value, text: null, reason, records: [] });
  const { against, by } = indicator;
  if (against.kind === 'value') return plain(against.value);
  if (against.kind === 'average' && against.field) {
    const members = await byMember(context, against.field, [measure], filter);
    return plain(
      summarise(
        'average',
        members.map(({ values }) => values[0]),
      ),
      'There are no members to take the average of.',
    );
  }
  return plain(Number.NaN, by === 'value' ? '' : 'It has no target.');
}

type Judging = Pick<Kpi, 'measure' | 'indicator'>;

/** The context with what KPIs are held against among its measures. */
const judging = (context: AnswerContext, kpis: readonly Judging[]): AnswerContext => ({
  ...context,
  dataset: withMarkMeasures(context.dataset, kpis),
});

/** What the members of a field reached, and the limits that they are held against. */
async function membersReached(
  context: AnswerContext,
  kpi: Judging,
  field: string,
  filter: Filter | null,
): Promise<{ limits: Limits; members: { member: string | null; value: number; reached: number }[] }> {
  const { indicator, measure } = kpi;
  const target = targetName(context.dataset, kpi);
  const members = await byMember(context, field, target ? [measure, target] : [measure], filter);
  const own = members.map(({ values }) => values[0]).filter((value) => !Number.isNaN(value));
  const fixed = indicator.against.kind === 'value' ? indicator.against.value : summarise('average', own);
  const limits: Limits = indicator.by === 'spread' ? spreadLimits(indicator, Float64Array.from(own).sort()) : indicator;
  return {
    limits,
    members: members.map(({ member, values: [value, goal] }) => ({
      member,
      value,
      reached: attainment(value, target ? goal : fixed, limits.by),
    })),
  };
}

/** The value of a measure for each member of a field, with how it is judged where it is held against something. */
export async function memberReadings(
  given: AnswerContext,
  { measure, indicator }: SectionFigure,
  field: string,
  filter: Filter | null,
): Promise<Map<string | null, { value: number; state: State; bearing: number | null }>> {
  if (!indicator) {
    const members = await byMember(given, field, [measure], filter);
    return new Map(members.map(({ member, values: [value] }) => [member, { value, state: 'none', bearing: null }]));
  }
  const kpi = { measure, indicator };
  const { limits, members } = await membersReached(judging(given, [kpi]), kpi, field, filter);
  return new Map(members.map(({ member, value, reached }) => [member, { value, ...judged(reached, limits) }]));
}

const countStates = (states: readonly State[]): RollUp['counts'] => {
  const counts: RollUp['counts'] = {};
  for (const state of states) counts[state] = (counts[state] ?? 0) + 1;
  return counts;
};

/** Where the members of a field stand. */
async function rollUpOf(context: AnswerContext, kpi: Kpi, field: string, filter: Filter | null): Promise<RollUp> {
  const { limits, members } = await membersReached(context, kpi, field, filter);
  const label = await labelsFor(context, [field]);
  const memberStates = members.map(({ member, reached }) => {
    return { member, label: label(field, member), attainment: orNull(reached), ...judged(reached, limits) };
  });
  const off = memberStates.filter(({ state }) => state === 'off' || state === 'far');
  off.sort((a, b) => distance(b.attainment, kpi.indicator) - distance(a.attainment, kpi.indicator));
  return { field, total: memberStates.length, counts: countStates(memberStates.map(({ state }) => state)), off: off.slice(0, MOST_LISTED) };
}

/** Members that are sent to draw a distribution of. */
const MOST_DRAWN = 400;

/** Where the members of a field would stand under an indicator. Throws UnknownNameError. */
export async function spreadOfMembers(
  context: AnswerContext,
  { measure, field, indicator }: Pick<SpreadRequest, 'measure' | 'field' | 'indicator'>,
  filter: Filter | null,
): Promise<SpreadResponse> {
  const kpi = { measure, indicator };
  const { limits, members } = await membersReached(judging(context, [kpi]), kpi, field, filter);
  const reached = Float64Array.from(members.map((member) => member.reached).filter((value) => !Number.isNaN(value))).sort();
  const every = Math.max(1, reached.length / MOST_DRAWN);
  return {
    reached: Array.from({ length: Math.min(reached.length, MOST_DRAWN) }, (_, index) => reached[Math.floor(index * every)]),
    limits: stepsOf(limits).flatMap(({ limit }) => (Number.isFinite(limit) ? [limit] : [])),
    counts: countStates(members.map((member) => stateAt(member.reached, limits))),
    total: members.length,
  };
}

/** How far from its target: more is worse. */
function distance(reached: number | null, { direction, by }: Indicator): number {
  if (reached === null) return -Infinity;
  return direction === 'higher' ? -reached : direction === 'lower' ? reached : Math.abs(reached - (by === 'ratio' ? 1 : 0));
}

/** The values of a measure through the last periods. */
async function trendOf(context: AnswerContext, { measure, trend }: Kpi, filter: Filter | null): Promise<KpiResponse[number]['trend']> {
  if (!trend) return undefined;
  const members = (await byMember(context, trend.field, [measure], filter)).filter(({ member }) => member !== null);
  const label = await labelsFor(context, [trend.field]);
  return members.slice(-trend.periods).map(({ member, values: [value] }) => ({ label: label(trend.field, member), value: orNull(value) }));
}

/** The values at which another state begins; none where they follow from no target. */
function limitValues(target: number, indicator: Indicator): number[] {
  const { by, direction } = indicator;
  const limits = stepsOf(indicator).flatMap(({ limit }) => (Number.isFinite(limit) ? [limit] : []));
  if (by === 'spread' || (by !== 'value' && !Number.isFinite(target))) return [];
  if (direction === 'band') return [];
  return limits.map((limit) => (by === 'ratio' ? limit * target : by === 'difference' ? target + limit : limit));
}

/** The figures and states of a KPI strip under a scope. */
export async function kpiValues(given: AnswerContext, strip: KpiStrip, scope: Filter | null): Promise<KpiResponse> {
  const filter = allOf(scope, strip.filter);
  const context = judging(given, strip.kpis);
  const targets = strip.kpis.map((kpi) => targetName(context.dataset, kpi));
  const names = [...strip.kpis.map(({ measure }) => measure), ...targets.filter((name) => name !== null)];
  const values = await measuresUnder(context, names, filter);
  return Promise.all(
    strip.kpis.map(async (kpi, index) => {
      const goal = targets[index];
      const { id, measure, indicator, rollUp } = kpi;
      const own = values.get(measure)!;
      const [target, trend, members] = await Promise.all([
        goal === null ? wholeTarget(context, kpi, filter) : values.get(goal)!,
        trendOf(context, kpi, filter),
        rollUp ? rollUpOf(context, kpi, rollUp.field, filter) : undefined,
      ]);
      // A share of members says nothing of them all together.
      const reached = indicator.by === 'spread' ? Number.NaN : attainment(own.value, target.value, indicator.by);
      return {
        id,
        value: orNull(own.value),
        target: orNull(target.value),
        attainment: orNull(reached),
        ...judged(reached, indicator),
        reason: own.reason || target.reason,
        limits: limitValues(target.value, indicator),
        ...(trend ? { trend } : {}),
        ...(members ? { rollUp: members } : {}),
      };
    }),
  );
}
