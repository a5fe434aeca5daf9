import type { CommonScale, CommonScaleRequest } from '../api/index.ts';
import { inSections } from '../exhibits/index.ts';
import { asCrosstab, axisOver, type Chart, type Filter } from '../model/index.ts';
import { chartCells } from './chart-cells.ts';
import type { AnswerContext } from './context.ts';

/** The least and the largest of some values; null where there are none. */
function endsOf(values: readonly number[]): { low: number; high: number } | null {
  return values.length === 0
    ? null
    : {
        low: values.reduce((least, value) => Math.min(least, value), Infinity),
        high: values.reduce((most, value) => Math.max(most, value), -Infinity),
      };
}

/**
 * Between which values a chart lies in all sections by a level, whatever section it is looked at in: all that it would draw in
 * each of them is asked for at once, with the level before its own. Throws AnswerError `too-large`.
 */
export async function commonScale(
  context: AnswerContext,
  chart: Chart,
  filter: Filter | null,
  { field, side, top }: CommonScaleRequest,
): Promise<CommonScale> {
  const narrowed = asCrosstab(inSections(chart, [{ field, member: null }], context.dataset));
  // A level that stands alone along the axis is the one that the sections go by already.
  const own = narrowed.side.fields.includes(field) ? narrowed.side.fields : [field, ...narrowed.side.fields];
  const added = own.length - narrowed.side.fields.length;
  const exhibit = { ...narrowed, side: { ...axisOver(own), levels: narrowed.side.levels, hideEmpty: true } };
  const request = {
    ...{ scope: {}, choices: {}, where: null, draft: false, top },
    side: { open: { depth: side.open.depth + added, exceptions: [] }, order: null, hideEmpty: true },
  };
  const { cells, columns } = await chartCells(context, exhibit, filter, request, {
    ...chart.chart,
    kind: 'bar',
    colours: 'order',
    forecast: undefined,
  });
  const measures = exhibit.cells.length;
  const column = (at: number): number => Math.floor(at / measures);
  /** What is drawn together in a chart that goes through periods. */
  const periodOf = (at: number): string => (chart.chart.through ? String(columns.items[column(at)].path[0]) : '');
  const known = (values: readonly (number | null)[]): number[] => values.filter((value) => value !== null);
  const sums = cells.flatMap((row) => {
    const periods = new Map<string, number>();
    row.forEach((value, at) => periods.set(periodOf(at), (periods.get(periodOf(at)) ?? 0) + (value ?? 0)));
    return [...periods.values()];
  });
  return {
    measures: exhibit.cells.map((_, measure) =>
      endsOf(known(cells.flatMap((row) => row.filter((_value, at) => at % measures === measure)))),
    ),
    sums: endsOf(sums),
  };
}
