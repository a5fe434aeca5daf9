import type { ChartResponse, CommonScale, CommonScaleRequest } from '../api/index.ts';
import { inSections } from '../exhibits/index.ts';
import { goesByPlace, planMeasure } from '../formula/index.ts';
import { asCrosstab, axisOver, type Chart, type Crosstab, type Dataset, type Filter } from '../model/index.ts';
import { askedInSections } from '../sections/index.ts';
import { chartCells } from './chart-cells.ts';
import type { AnswerContext } from './context.ts';
import { AnswerError } from './errors.ts';
import { allRecords } from './record-counts.ts';
import { askedFilter } from './scope.ts';

/** More sections are not asked one by one for a scale. */
const MOST_APART = 60;

/** The least and the largest of some values; null where there are none. */
function endsOf(values: readonly (number | null)[]): { low: number; high: number } | null {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values)
    if (value !== null) {
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
  return low > high ? null : { low, high };
}

/** Whether what a chart shows depends on the members beside it, which are those of its section alone. */
const goesByOthers = (dataset: Dataset, { side, top, cells, conditions }: Crosstab): boolean =>
  conditions.length > 0 ||
  [side, top].some(({ levels }) => Object.values(levels).some(({ pick, classes, groups = [] }) => pick || classes || groups.length > 0)) ||
  cells.some(({ measure }) => goesByPlace(planMeasure(dataset, measure).cell));

/**
 * The range of the values of a chart in all sections by a level: its axis where they share a scale. All sections are asked for at
 * once, with their level before those of the chart; one by one where values depend on the members beside them, as shares, ranks
 * and selections of members do. Throws AnswerError `too-large`.
 */
export async function commonScale(
  context: AnswerContext,
  chart: Chart,
  filter: Filter | null,
  { field, side, top }: CommonScaleRequest,
): Promise<CommonScale> {
  const own = asCrosstab(inSections(chart, [{ field, member: null }], context.dataset));
  const ask = (exhibit: Crosstab, under: Filter | null, depth: number): Promise<ChartResponse> =>
    chartCells(
      context,
      exhibit,
      under,
      {
        ...{ scope: {}, choices: {}, where: null, draft: false, top },
        side: { open: { depth, exceptions: [] }, order: null, hideEmpty: true },
      },
      { ...chart.chart, kind: 'bar', colours: 'order', forecast: undefined },
    );
  // A level that is alone on its axis is the one that the sections go by.
  const isOnAxis = own.side.fields.includes(field);
  if (!goesByOthers(context.dataset, own)) {
    const fields = isOnAxis ? own.side.fields : [field, ...own.side.fields];
    const together = { ...own, side: { ...axisOver(fields), levels: own.side.levels, hideEmpty: true } };
    return rangeOf(own, [await ask(together, filter, side.open.depth + (isOnAxis ? 0 : 1))], chart);
  }
  const members = [...(await allRecords(context, field, { scope: {}, where: filter })).keys()];
  if (members.length > MOST_APART)
    throw new AnswerError(
      'too-large',
      `These are ${members.length} sections, and ${MOST_APART} is the most that can share a scale here. Choose fewer members in the scope line.`,
    );
  const answers: ChartResponse[] = [];
  for (const member of members) {
    const section = askedFilter(askedInSections({ scope: {}, where: filter }, [{ field, member }]));
    answers.push(await ask(own, section, side.open.depth));
  }
  return rangeOf(own, answers, chart);
}

/** The range of each measure, and of the sums of what is stacked, over some answers. */
function rangeOf(
  { cells: { length: measures }, cells: shown }: Crosstab,
  answers: readonly ChartResponse[],
  { chart }: Chart,
): CommonScale {
  const sums = answers.flatMap(({ cells, columns }) => {
    /** What is stacked in a chart that goes through periods: the series of one period. */
    const periodOf = (at: number): string => (chart.through ? String(columns.items[Math.floor(at / measures)].path[0]) : '');
    return cells.flatMap((row) => {
      const periods = new Map<string, number>();
      row.forEach((value, at) => periods.set(periodOf(at), (periods.get(periodOf(at)) ?? 0) + (value ?? 0)));
      return [...periods.values()];
    });
  });
  const rows = answers.flatMap(({ cells }) => cells);
  return {
    measures: shown.map((_, measure) => endsOf(rows.flatMap((row) => row.filter((_value, at) => at % measures === measure)))),
    sums: endsOf(sums),
  };
}
