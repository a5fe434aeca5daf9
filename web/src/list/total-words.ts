import type { ListColumn } from '@bold-compass/core/model';

/** What the totals of list columns are called. */
export const TOTAL_WORDS: Record<NonNullable<ListColumn['total']>, string> = {
  sum: 'sum',
  avg: 'average',
  min: 'minimum',
  max: 'maximum',
  count: 'count',
  count_distinct: 'distinct count',
};
