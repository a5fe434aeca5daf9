import type { SectionsResponse } from '../api/index.ts';
import { allOf, type Filter, type Sections } from '../model/index.ts';
import { labelsFor, naturalOrder, type AnswerContext, type CompareMembers } from './context.ts';
import { AnswerError } from './errors.ts';
import { kpiValues, memberReadings } from './kpis.ts';
import { orNull } from './numbers.ts';
import { allRecords } from './record-counts.ts';
import { askedFilter, scopeFilter, type Asked } from './scope.ts';
import { measureUnder } from './cells.ts';

/** The most sections that a reader can find their way through. */
const MOST_SECTIONS = 1_000;

/** The order that sections stand in: that of their members, or by a measure, members without a value last. */
async function orderOf(context: AnswerContext, { field, order }: Sections, filter: Filter | null): Promise<CompareMembers> {
  const { compare } = await naturalOrder(context, field);
  const sign = order.direction === 'asc' ? 1 : -1;
  if (order.by === 'member') return (a, b) => (a === null || b === null ? compare(a, b) : sign * compare(a, b));
  const readings = await memberReadings(context, { measure: order.measure }, field, filter);
  const value = (member: string | null): number => readings.get(member)?.value ?? Number.NaN;
  return (a, b) => {
    const [one, other] = [value(a), value(b)];
    if (Number.isNaN(one) || Number.isNaN(other)) return Number(Number.isNaN(one)) - Number(Number.isNaN(other)) || compare(a, b);
    return sign * (one - other) || compare(a, b);
  };
}

/** The figure of all sections together. */
async function wholeFigure(context: AnswerContext, { figure }: Sections, filter: Filter | null): Promise<SectionsResponse['whole']> {
  if (!figure) return null;
  const { measure, indicator } = figure;
  if (!indicator) return { value: orNull((await measureUnder(context, measure, filter)).value), state: 'none', bearing: null };
  const kpi = { id: 'section', label: measure, measure, indicator, words: '', show: 'figure' } as const;
  const strip = { kind: 'kpis', id: 'section', title: measure, width: 12, note: '', filter: null, kpis: [kpi] } as const;
  const [{ value, state, bearing }] = await kpiValues(context, { ...strip, kpis: [kpi] }, filter);
  return { value, state, bearing };
}

/**
 * The sections of a page or an exhibit under what a reader chose, in their order, each with its records and its figure. `own` is the
 * condition of the exhibit itself. Throws AnswerError `too-large`, UnknownNameError.
 */
export async function sectionList(context: AnswerContext, sections: Sections, asked: Asked, own: Filter | null): Promise<SectionsResponse> {
  const { field, empty, figure } = sections;
  const under = { scope: asked.scope, where: allOf(asked.where, own) };
  const filter = askedFilter(under);
  const counts = await allRecords(context, field, under);
  if (empty === 'say') {
    const known = (await context.data.members([field], scopeFilter(asked.scope))) ?? [];
    for (const [member] of known) if (member !== null && !counts.has(member)) counts.set(member, 0);
  }
  if (counts.size > MOST_SECTIONS)
    throw new AnswerError(
      'too-large',
      `These would be ${counts.size.toLocaleString(context.locale)} sections, and ${MOST_SECTIONS.toLocaleString(context.locale)} is the most. Choose fewer members in the scope line, or a coarser level for the sections.`,
    );
  const [compare, readings, label, whole] = await Promise.all([
    orderOf(context, sections, filter),
    figure ? memberReadings(context, figure, field, filter) : null,
    labelsFor(context, [field]),
    wholeFigure(context, sections, filter),
  ]);
  return {
    sections: [...counts.keys()].sort(compare).map((member) => {
      const reading = readings?.get(member);
      return {
        member,
        label: label(field, member),
        records: counts.get(member)!,
        figure: readings
          ? { value: orNull(reading?.value ?? Number.NaN), state: reading?.state ?? 'none', bearing: reading?.bearing ?? null }
          : null,
      };
    }),
    whole,
  };
}
