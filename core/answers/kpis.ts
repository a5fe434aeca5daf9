import type { KpiResponse, SpreadRequest, SpreadResponse } from '../api/index.ts';
import { compareText } from '../engine/index.ts';
import { attainment, backMeasure, stateAt, stepsOf, targetMeasures, type Limits, type State } from '../indicators/index.ts';
import { allOf, type Filter, type Indicator, type Kpi, type KpiStrip, type Target } from '../model/index.ts';
import { cubeFor, measuresUnder, plainCrosstab, withBack, type MeasuredValue } from './cells.ts';
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

const average = (values: number[]): number => {
  const own = values.filter((value) => !Number.isNaN(value));
  return own.length === 0 ? Number.NaN : own.reduce((sum, value) => sum + value, 0) / own.length;
};

/** A measure that is a target, with the dataset that holds it; null where the target is none. */
function targetMeasure(
  context: AnswerContext,
  kpi: Pick<Kpi, 'measure' | 'indicator'>,
): { context: AnswerContext; measure: string } | null {
  const { against } = kpi.indicator;
  if (against.kind === 'measure') return { context, measure: against.measure };
  if (against.kind !== 'back') return null;
  const { dataset } = withBack(context.dataset, kpi.measure, against);
  return { context: { ...context, dataset }, measure: backMeasure(context.dataset, kpi.measure, against).name };
}

/** What a KPI as a whole is held against. */
async function wholeTarget(context: AnswerContext, kpi: Kpi, filter: Filter | null): Promise<MeasuredValue> {
  const plain = (value: number, reason = ''): MeasuredValue => ({ value, text: null, reason, records: [] });
  const { against } = kpi.indicator;
  const measure = targetMeasure(context, kpi);
  if (measure) return (await measuresUnder(measure.context, [measure.measure], filter)).get(measure.measure)!;
  if (against.kind === 'value') return plain(against.value);
  if (against.kind === 'average' && against.field) {
    const members = await byMember(context, against.field, [kpi.measure], filter);
    return plain(average(members.map(({ values }) => values[0])), 'There are no members to take the average of.');
  }
  return plain(Number.NaN, kpi.indicator.by === 'value' ? '' : 'It has no target.');
}

/** How a member's target is found: of its own records, or from those beside it. */
const isOwnTarget = ({ kind }: Target): boolean => kind === 'measure' || kind === 'back';

type Judging = Pick<Kpi, 'measure' | 'indicator'>;

/** What the members of a field reached, and the limits that they are held against. */
async function membersReached(
  context: AnswerContext,
  kpi: Judging,
  field: string,
  filter: Filter | null,
): Promise<{ limits: Limits; members: { member: string | null; reached: number }[] }> {
  const { indicator, measure } = kpi;
  const target = isOwnTarget(indicator.against) ? targetMeasure(context, kpi) : null;
  const members = await byMember(target?.context ?? context, field, target ? [measure, target.measure] : [measure], filter);
  const own = members.map(({ values }) => values[0]);
  const fixed = indicator.against.kind === 'value' ? indicator.against.value : average(own);
  const sorted = Float64Array.from(own.filter((value) => !Number.isNaN(value))).sort();
  const limits: Limits = indicator.by === 'spread' ? spreadLimits(indicator, sorted) : indicator;
  return {
    limits,
    members: members.map(({ member, values: [value, goal] }) => ({ member, reached: attainment(value, target ? goal : fixed, limits.by) })),
  };
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
  const standing = members.map(({ member, reached }) => {
    return { member, label: label(field, member), attainment: orNull(reached), ...judged(reached, limits) };
  });
  const off = standing.filter(({ state }) => state === 'off' || state === 'far');
  // The lower the needle, the worse.
  off.sort((a, b) => (b.bearing ?? 0) - (a.bearing ?? 0) || distance(b.attainment, kpi.indicator) - distance(a.attainment, kpi.indicator));
  return { field, total: standing.length, counts: countStates(standing.map(({ state }) => state)), off: off.slice(0, MOST_LISTED) };
}

/** Members that are sent to draw a distribution of. */
const MOST_DRAWN = 400;

/** Where the members of a field would stand under an indicator. Throws UnknownNameError. */
export async function spreadOfMembers(
  context: AnswerContext,
  { measure, field, indicator }: Pick<SpreadRequest, 'measure' | 'field' | 'indicator'>,
  filter: Filter | null,
): Promise<SpreadResponse> {
  const { limits, members } = await membersReached(context, { measure, indicator }, field, filter);
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
  members.sort((a, b) => compareText(a.member!, b.member!));
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
export async function kpiValues(context: AnswerContext, strip: KpiStrip, scope: Filter | null): Promise<KpiResponse> {
  const filter = allOf(scope, strip.filter);
  const names = strip.kpis.flatMap(({ measure, indicator }) => [measure, ...targetMeasures(indicator)]);
  const values = await measuresUnder(context, names, filter);
  return Promise.all(
    strip.kpis.map(async (kpi) => {
      const { id, measure, indicator, rollUp } = kpi;
      const own = values.get(measure)!;
      const [target, trend, members] = await Promise.all([
        indicator.against.kind === 'measure' ? values.get(indicator.against.measure)! : wholeTarget(context, kpi, filter),
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
