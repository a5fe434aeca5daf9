import { allOf, axisOver, crosstabSchema, type Crosstab, type Filter, type Variance } from '../model/index.ts';

/**
 * The members of one field as a cross-tab of the measure, held against itself some periods back, or in two members, so that each
 * of its figures is explained as any cell is, and leads to its records.
 */
export function varianceTable(exhibit: Variance, field: string): Crosstab {
  const { id, page, title, filter, dataset, measure, back, follows, between } = exhibit;
  const own = between ? allOf(filter, membersCompared(between)) : filter;
  return crosstabSchema.parse({
    ...{ kind: 'crosstab', id, page, title, filter: own, dataset, follows },
    ...{ side: axisOver([field]), top: axisOver(between ? [between.field] : []), cells: [{ measure }] },
    against: between ? [] : [{ kind: 'back', ...back }],
  });
}

/** The condition that keeps the two members that are compared. */
export const membersCompared = ({ field, before, after }: NonNullable<Variance['between']>): Filter => ({
  ...{ op: 'in', field },
  values: [before, after],
});
