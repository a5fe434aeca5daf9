import { ColumnsData } from '../answers/index.ts';
import { askQueries, Cube, planCrosstab, resolvePlan } from '../crosstab/index.ts';
import { runQuery, type Query, type QueryResult, type Store } from '../engine/index.ts';
import { axisOver, type Dataset, type Filter } from '../model/index.ts';

/** Formulas as measures of a dataset, each named by itself. */
export const withFormulas = (dataset: Dataset, formulas: readonly string[], fact?: string): Dataset => ({
  ...dataset,
  measures: [
    ...dataset.measures,
    ...formulas.map((formula) => ({
      ...{ name: formula, label: formula, formula, fact, direction: 'higher' as const },
      format: { kind: 'number' as const, decimals: 0, unit: 'one' as const },
    })),
  ],
});

/** A cross-tab of measures, every level calculated; `ask` answers its queries, by columns where it is not given. */
export async function cubeOf(
  dataset: Dataset,
  store: Store,
  { side, top, measures }: { side: string[]; top: string[]; measures: readonly string[] },
  scope: Filter | null = null,
  ask: (query: Query) => Promise<QueryResult> = (query) => Promise.resolve(runQuery(dataset, store, query)),
): Promise<Cube> {
  const plan = planCrosstab(
    dataset,
    { side: axisOver(side), top: axisOver(top), cells: measures.map((measure) => ({ measure })), filter: null },
    scope,
    { side: side.length, top: top.length },
  );
  await resolvePlan(new ColumnsData(dataset, store), plan);
  return new Cube(plan, await askQueries(plan.parts, ask), { side: null, top: null });
}
