import { chartSchema, type Chart, type Crosstab, type Exhibit } from '../model/index.ts';

/** The cross-tab that a chart stays in step with; undefined where it draws axes of its own. */
export const steppedWith = (exhibits: readonly Exhibit[], exhibit: Exhibit): Crosstab | undefined =>
  exhibit.kind === 'chart' && exhibit.chart.inStepWith !== undefined
    ? exhibits.find((one): one is Crosstab => one.kind === 'crosstab' && one.id === exhibit.chart.inStepWith)
    : undefined;

/** A chart with what it takes from the cross-tab that it stays in step with; any other exhibit as it is. */
export function inStep<Own extends Exhibit>(exhibits: readonly Exhibit[], exhibit: Own): Own {
  const table = steppedWith(exhibits, exhibit);
  if (!table) return exhibit;
  const { side, top, cells, filter, dataset, conditions, follows } = table;
  return { ...exhibit, side, top, cells, filter, dataset, conditions, follows };
}

/** A chart of a cross-tab, to stand beside it. */
export function chartOf(table: Crosstab, id: string, kind: Chart['chart']['kind']): Chart {
  const { side, top, cells, filter, dataset, conditions, follows, drills, against, page } = table;
  return chartSchema.parse({
    ...{ kind: 'chart', id, page, dataset, title: table.title, width: table.width, filter, follows },
    ...{ side, top, cells, conditions, drills, against, chart: { kind, inStepWith: table.id } },
  });
}
