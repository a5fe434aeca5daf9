import { axisOver, crosstabSchema, type Crosstab, type Variance } from '../model/index.ts';

/**
 * The members of one field as a cross-tab of the measure, held against itself some periods back, so that each of its figures is
 * explained as any cell is, and leads to its records.
 */
export function varianceTable(exhibit: Variance, field: string): Crosstab {
  const { id, page, title, filter, dataset, measure, back, follows } = exhibit;
  return crosstabSchema.parse({
    ...{ kind: 'crosstab', id, page, title, filter, dataset, follows },
    ...{ side: axisOver([field]), top: axisOver([]), cells: [{ measure }], against: [{ kind: 'back', ...back }] },
  });
}
