import { fieldPlural, type Dataset, type LevelSettings } from '../model/index.ts';
import { classLetter, groupKey, OTHERS, soundGroups } from './plan.ts';

/** The words for what stands in a path for several members of a level: all others, a class, or a group; undefined for a member. */
export function combinedWords(
  dataset: Dataset,
  field: string,
  { groups }: Pick<LevelSettings, 'groups'> = {},
  member: string | null,
): string | undefined {
  if (member === OTHERS) return `All other ${fieldPlural(dataset, field)}`;
  const letter = classLetter(member);
  return letter === null ? soundGroups(groups).find((group) => groupKey(group) === member)?.label : `Class ${letter}`;
}
