import { allOf, findField, type Dataset, type Filter, type List, type Scope } from '@bold-compass/core/model';

/** What the columns of a record say of dimensions: its members, and where it has none. */
export function recordPlace(
  dataset: Dataset,
  { columns }: Pick<List, 'columns'>,
  values: readonly unknown[],
): { scope: Scope; where: Filter | null } {
  const scope: Scope = {};
  const missing: Filter[] = [];
  columns.forEach(({ field }, index) => {
    if (field === undefined || findField(dataset, field)?.kind !== 'level') return;
    const value = values[index];
    if (typeof value === 'string') scope[field] = [value];
    else if (value === null) missing.push({ op: 'empty', field });
  });
  return { scope, where: allOf(...missing) };
}
