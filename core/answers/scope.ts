import { allOf, findField, type Dataset, type Filter, type Scope } from '../model/index.ts';

/** What a reader chose, as a condition. */
export function scopeFilter(scope: Scope): Filter | null {
  return allOf(
    ...Object.entries(scope)
      .filter(([, values]) => values.length > 0)
      .map(([field, values]): Filter => ({ op: 'in', field, values })),
  );
}

/** The part of a scope that a dataset knows: exhibits of other datasets answer under what they share. */
export const scopeIn = (dataset: Dataset, scope: Scope): Scope =>
  Object.fromEntries(Object.entries(scope).filter(([field]) => findField(dataset, field)));
