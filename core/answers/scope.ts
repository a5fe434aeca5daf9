import { allOf, fieldsOf, findField, type Dataset, type Filter, type Scope } from '../model/index.ts';
import type { AskedConditions } from '../prompts/index.ts';

/** What a reader asks under: the members they chose, and all other conditions. */
export type Asked = AskedConditions;

/** What a reader chose, as a condition. */
export function scopeFilter(scope: Scope): Filter | null {
  return allOf(
    ...Object.entries(scope)
      .filter(([, values]) => values.length > 0)
      .map(([field, values]): Filter => ({ op: 'in', field, values })),
  );
}

/** All that a reader asks under, as one condition. */
export const askedFilter = ({ scope, where }: Asked): Filter | null => allOf(scopeFilter(scope), where);

const itemsOf = (filter: Filter | null): Filter[] => (filter === null ? [] : filter.op === 'and' ? filter.items : [filter]);

/** The part of it that a dataset knows: exhibits of other datasets answer under what they share. */
export const askedIn = (dataset: Dataset, { scope, where }: Asked): Asked => ({
  scope: Object.fromEntries(Object.entries(scope).filter(([field]) => findField(dataset, field))),
  where: allOf(...itemsOf(where).filter((item) => fieldsOf(item).every((field) => findField(dataset, field)))),
});
