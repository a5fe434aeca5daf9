import type { VarianceResponse } from '../api/index.ts';
import { countWords, differenceText } from '../format/index.ts';
import type { NumberFormat } from '../model/index.ts';

type Field = VarianceResponse['fields'][number];
type Named = Field['named'][number];

/** A line of what changed: a member, or all others together, which have no path. */
export type ContributionRow = Omit<Named, 'path'> & { path: Named['path'] | null };

/** The members that made most of a difference, and all others together after them. */
export function contributionRows({ named, others, plural }: Pick<Field, 'named' | 'others' | 'plural'>, locale: string): ContributionRow[] {
  if (!others) return [...named];
  const label = countWords(others.count, { one: `other of the ${plural}`, many: `other ${plural}` }, locale);
  return [...named, { ...others, path: null, label }];
}

/** What the columns of what was, what is, and what is between them are called. */
export const varianceColumns = (between: VarianceResponse['between']): { before: string; after: string; change: string } =>
  between ? { ...between, change: 'Difference' } : { before: 'Before', after: 'Now', change: 'Change' };

/** A change of a measure with its sign: "+1.2 M", "−1.4 pt". */
export function signedDifference(value: number, format: NumberFormat, locale: string): string {
  const words = differenceText(Math.abs(value), format, locale);
  return value > 0 ? `+${words}` : value < 0 ? `−${words}` : words;
}
