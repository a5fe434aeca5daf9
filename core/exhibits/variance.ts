import { fieldsOf, varianceSchema, type Dataset, type Variance } from '../model/index.ts';
import { labelOf, listed } from './changes.ts';
import type { ExhibitKind } from './kind.ts';
import { otherFields, otherName } from './swap.ts';

const MOST_FIELDS = 5;

function varianceChanges(name: string, before: Variance, after: Variance, dataset: Dataset | undefined): string[] {
  const label = (one: string): string => labelOf(dataset, one);
  return [
    ...listed([before.measure], [after.measure], label, name, 'as its measure'),
    ...listed(before.fields, after.fields, label, name, 'among its fields'),
  ];
}

export const varianceKind: ExhibitKind<Variance> = {
  kind: 'variance',
  label: 'What changed',
  id: 'what-changed',
  isNumbered: true,
  names: ({ measure, fields, effects, filter, between }) => ({
    fields: [...fields, ...fieldsOf(filter), ...(effects ? [effects.field] : []), ...(between ? [between.field] : [])],
    measures: [measure, ...(effects ? [effects.quantity] : [])],
  }),
  axes: ({ fields }) => fields.map((field) => [field]),
  texts: ({ title, note }) => [title, note],
  swapped: (own, swap) => {
    const measure = otherName(swap, own.measure);
    const fields = otherFields(swap, own.fields);
    // What is sold is told of its own measure only.
    return { ...own, measure, fields, effects: measure === own.measure ? own.effects : undefined };
  },
  inSection: (own, left) => ({ ...own, fields: left(own.fields) }),
  changes: (name, before, after, dataset) => ({
    sentences: varianceChanges(name, before, after, dataset),
    settings: ['measure', 'fields'],
  }),
  create({ id, page, dataset, otherDataset }) {
    const measure = dataset.measures.find(({ hidden }) => !hidden);
    const fields = dataset.dimensions.flatMap((dimension) =>
      dimension.kind === 'table' && !dimension.tree ? dimension.levels.slice(0, 2) : [],
    );
    if (!measure || fields.length === 0) return null;
    const names = fields.filter(({ hidden }) => !hidden).map(({ name }) => name);
    return varianceSchema.parse({
      ...{ kind: 'variance', id, page, dataset: otherDataset, title: 'What changed' },
      ...{ measure: measure.name, fields: names.slice(0, MOST_FIELDS) },
    });
  },
};
