import type { VarianceResponse } from '@bold-compass/core/api';
import { countWords } from '@bold-compass/core/format';
import { LOCALE } from '../report/state-words.ts';

type Field = VarianceResponse['fields'][number];
type Named = Field['named'][number];

/** A line of what changed: a member, or all others together, which have no path. */
type ContributionRow = Omit<Named, 'path'> & { path: Named['path'] | null };

/** The members that made most of a difference, and all others together after them. */
export function contributionRows({ named, others, plural }: Pick<Field, 'named' | 'others' | 'plural'>): ContributionRow[] {
  if (!others) return [...named];
  const label = countWords(others.count, { one: `other of the ${plural}`, many: `other ${plural}` }, LOCALE);
  return [...named, { ...others, path: null, label }];
}
