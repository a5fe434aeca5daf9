import { factKnows, fieldsOf, listSchema, type Dataset, type List } from '../model/index.ts';
import { isSame, labelOf, listed } from './changes.ts';
import { indicatorMeasures } from '../indicators/index.ts';
import type { ExhibitKind } from './kind.ts';
import { usualTotal } from './usual-total.ts';
import { otherFields, otherName } from './swap.ts';

function listChanges(name: string, before: List, after: List, dataset: Dataset | undefined): string[] {
  const label = (one: string): string => labelOf(dataset, one);
  const columns = (of: List): string[] => of.columns.map(({ field, measure }) => field ?? measure ?? '');
  const shown = after.columns.flatMap((column) => {
    const key = column.field ?? column.measure ?? '';
    const old = before.columns.find((one) => (one.field ?? one.measure) === key);
    return old && !isSame(old, column) ? [`${name}: how ${label(key)} is shown changed.`] : [];
  });
  return [...listed(columns(before), columns(after), label, name, 'among the columns'), ...shown];
}

const fieldsRead = ({ columns, groups, order, filter }: List): string[] => [
  ...columns.flatMap(({ field }) => field ?? []),
  ...groups.map(({ field }) => field),
  ...order.map(({ field }) => field),
  ...fieldsOf(filter),
];

export const listKind: ExhibitKind<List> = {
  kind: 'list',
  label: 'List',
  id: 'list',
  isNumbered: true,
  names: (list) => ({
    fields: fieldsRead(list),
    measures: list.columns.flatMap(({ measure, indicator }) => [...(measure ? [measure] : []), ...indicatorMeasures(indicator)]),
  }),
  faults(list, dataset) {
    const fact = dataset.facts.find(({ name }) => name === list.fact);
    if (!fact) return [`There are no records called "${list.fact}" in ${dataset.label}.`];
    const unknown = fieldsRead(list).find((name) => !factKnows(dataset, fact, name));
    return unknown ? [`${fact.label} have no "${unknown}".`] : [];
  },
  links: ({ links }) => links ?? [],
  texts: ({ title, note }) => [title, note],
  swapped(own, swap, dataset) {
    const fact = dataset.facts.find(({ name }) => name === own.fact);
    const known = (field: string): boolean => fact !== undefined && factKnows(dataset, fact, field);
    const fields = otherFields(
      swap,
      own.groups.map(({ field }) => field),
    ).filter(known);
    const [like] = own.groups;
    return {
      ...own,
      groups: fields.map((field) => own.groups.find((one) => one.field === field) ?? { ...like, field }),
      columns: own.columns.map((column) => {
        const measure = column.measure && otherName(swap, column.measure);
        return measure === column.measure ? column : { ...column, measure, heading: undefined, format: undefined };
      }),
    };
  },
  inSection(own, left) {
    const fields = left(own.groups.map(({ field }) => field));
    return { ...own, groups: own.groups.filter(({ field }) => fields.includes(field)) };
  },
  changes: (name, before, after, dataset) => ({ sentences: listChanges(name, before, after, dataset), settings: ['columns'] }),
  create({ id, page, dataset, otherDataset }) {
    const [fact] = dataset.facts;
    const fields = fact.fields.filter(({ hidden }) => !hidden).slice(0, 6);
    if (fields.length === 0) return null;
    const columns = fields.map((field) => ({ field: field.name, total: usualTotal(field) }));
    return listSchema.parse({ kind: 'list', id, page, dataset: otherDataset, title: fact.label, fact: fact.name, columns });
  },
};
