import { backMeasure } from '../indicators/index.ts';
import {
  allOf,
  axisOver,
  crosstabSchema,
  withReportMeasures,
  type Crosstab,
  type Dataset,
  type Filter,
  type Variance,
} from '../model/index.ts';

/** The name of the measure of the earlier period, in the dataset of `varianceTable`. */
export const earlierMeasure = (dataset: Dataset, { measure, back }: Variance): string => backMeasure(dataset, measure, back).name;

/**
 * The members of one field as a cross-tab of the measure, beside itself some periods back, or in two members, so that each of its
 * figures is explained as any cell is, and leads to its records; with the dataset that knows the measure of the earlier period.
 */
export function varianceTable(dataset: Dataset, exhibit: Variance, field: string): { dataset: Dataset; exhibit: Crosstab } {
  const { id, page, title, filter, measure, back, follows, between } = exhibit;
  const own = between ? allOf(filter, membersCompared(between)) : filter;
  const earlier = backMeasure(dataset, measure, back);
  return {
    dataset: between ? dataset : withReportMeasures(dataset, [earlier], dataset.promptValues),
    exhibit: crosstabSchema.parse({
      ...{ kind: 'crosstab', id, page, title, filter: own, dataset: exhibit.dataset, follows },
      ...{ side: axisOver([field]), top: axisOver(between ? [between.field] : []) },
      cells: between ? [{ measure }] : [{ measure }, { measure: earlier.name }],
      against: between ? [] : [{ kind: 'back', ...back }],
    }),
  };
}

/** The fields whose members are told one by one. */
export const explainedFields = ({ fields, effects }: Variance): string[] => [...new Set([...fields, ...(effects ? [effects.field] : [])])];

/** The condition that keeps the two members that are compared. */
export const membersCompared = ({ field, before, after }: NonNullable<Variance['between']>): Filter => ({
  ...{ op: 'in', field },
  values: [before, after],
});
