import { canAggregateOtherwise } from '@bold-compass/core/crosstab';
import {
  factKnows,
  fieldsOf,
  findField,
  findMeasure,
  isDataExhibit,
  type Axis,
  type Dataset,
  type Exhibit,
  type Report,
} from '@bold-compass/core/model';

/** The names that an axis reads beside its fields. */
function axisNames({ fields, levels, order }: Axis): { fields: string[]; measures: string[] } {
  const orders = [order, ...Object.values(levels).map((level) => level.order)];
  return {
    fields: [...fields, ...orders.flatMap((one) => (one?.by === 'field' ? [one.field] : []))],
    measures: [
      ...orders.flatMap((one) => (one?.by === 'measure' ? [one.measure] : [])),
      ...Object.values(levels).flatMap(({ pick }) => (pick ? [pick.measure] : [])),
    ],
  };
}

function namesOf(exhibit: Exhibit): { fields: string[]; measures: string[] } {
  switch (exhibit.kind) {
    case 'crosstab': {
      const axes = [axisNames(exhibit.side), axisNames(exhibit.top)];
      return {
        fields: [...axes.flatMap(({ fields }) => fields), ...exhibit.conditions.map(({ field }) => field), ...fieldsOf(exhibit.filter)],
        measures: [
          ...axes.flatMap(({ measures }) => measures),
          ...exhibit.conditions.map(({ measure }) => measure),
          ...exhibit.cells.flatMap(({ measure, indicator }) => [
            measure,
            ...(indicator?.against.kind === 'measure' ? [indicator.against.measure] : []),
          ]),
        ],
      };
    }
    case 'list':
      return {
        fields: [
          ...exhibit.columns.flatMap(({ field }) => field ?? []),
          ...exhibit.groups.map(({ field }) => field),
          ...exhibit.order.map(({ field }) => field),
          ...fieldsOf(exhibit.filter),
        ],
        measures: exhibit.columns.flatMap(({ measure }) => measure ?? []),
      };
    case 'kpis':
      return { fields: fieldsOf(exhibit.filter), measures: exhibit.kpis.map(({ measure }) => measure) };
    default:
      return { fields: [], measures: [] };
  }
}

/** What of a report cannot be worked out over its datasets, in words; empty for a sound one. */
export function reportFaults(report: Report, datasetOf: (name: string) => Dataset): string[] {
  const faults: string[] = [];
  const ids = report.exhibits.map(({ id }) => id);
  const twice = ids.find((id, index) => ids.indexOf(id) !== index);
  if (twice) faults.push(`Two exhibits have the id "${twice}".`);
  for (const exhibit of report.exhibits) {
    if (!isDataExhibit(exhibit)) continue;
    const dataset = datasetOf(exhibit.dataset ?? report.dataset);
    const { fields, measures } = namesOf(exhibit);
    const field = fields.find((name) => !findField(dataset, name));
    if (field) faults.push(`There is no field called "${field}" in ${dataset.label}.`);
    // An order may be by a measure that is counted in another way there.
    const measure = measures.find((name) => !findMeasure(dataset, name.replace(/ \([a-z_]+\)$/, '')));
    if (measure) faults.push(`There is no measure called "${measure}" in ${dataset.label}.`);
    if (field || measure) continue;
    if (exhibit.kind === 'crosstab') {
      const odd = exhibit.cells.find((cell) => cell.aggregation && !canAggregateOtherwise(findMeasure(dataset, cell.measure)!.formula));
      if (odd) faults.push(`${findMeasure(dataset, odd.measure)!.label} is no single aggregate, so it cannot be counted in another way.`);
    }
    if (exhibit.kind === 'list') {
      const fact = dataset.facts.find(({ name }) => name === exhibit.fact);
      if (!fact) faults.push(`There are no records called "${exhibit.fact}" in ${dataset.label}.`);
      else {
        const unknown = fields.find((name) => !factKnows(dataset, fact, name));
        if (unknown) faults.push(`${fact.label} have no "${unknown}".`);
      }
    }
  }
  return faults;
}
