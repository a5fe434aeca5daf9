import type { ValuesResponse } from '../api/index.ts';
import { findMeasure } from '../model/index.ts';
import { measuresUnder } from './cells.ts';
import type { AnswerContext } from './context.ts';
import { orNull } from './numbers.ts';
import { askedFilter, type Asked } from './scope.ts';

/** The values of the measures that titles and texts name; names that are none are left out. */
export async function textValues(context: AnswerContext, measures: string[], asked: Asked): Promise<ValuesResponse> {
  const known = measures.filter((name) => findMeasure(context.dataset, name));
  if (known.length === 0) return {};
  const values = await measuresUnder(context, known, askedFilter(asked));
  return Object.fromEntries([...values].map(([name, { value, reason }]) => [name, { value: orNull(value), reason }]));
}
