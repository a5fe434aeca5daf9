import type { ListResponse } from '@bold-compass/core/api';
import { allOf, factNamed, type Filter, type List } from '@bold-compass/core/model';
import { reasonNotKnown } from '@bold-compass/core/crosstab';
import type { Desk } from '../data/index.ts';
import { ApiError } from '../http/problems.ts';

export interface ListPageRequest {
  order: { field: string; direction: 'asc' | 'desc' }[];
  offset: number;
  limit: number;
}

/** A page of a list with its totals. Throws ApiError `question-invalid` where the fact cannot answer under the scope. */
export async function listPage(desk: Desk, list: List, scope: Filter | null, request: ListPageRequest): Promise<ListResponse> {
  const fact = factNamed(desk.dataset, list.fact);
  const filter = allOf(scope, list.filter, fact.filter);
  const reason = reasonNotKnown(desk.dataset, fact, filter);
  if (reason) throw new ApiError('question-invalid', reason);
  const totalled = list.columns.filter((column) => column.total);
  const [page, totals] = await Promise.all([
    desk.records({
      fact: fact.name,
      filter,
      columns: list.columns.map((column) => column.field),
      order: request.order,
      offset: request.offset,
      limit: request.limit,
    }),
    desk.query({
      fact: fact.name,
      filter,
      levels: [],
      sets: [[]],
      aggregates: totalled.map((column) => ({ fn: column.total!, argument: { kind: 'field', name: column.field }, where: null })),
    }),
  ]);
  return {
    total: page.total,
    rows: page.rows,
    totals: list.columns.map((column) => {
      const index = totalled.indexOf(column);
      const value = index < 0 ? Number.NaN : totals.sets[0].values[index].values[0];
      return Number.isNaN(value) ? null : value;
    }),
  };
}
