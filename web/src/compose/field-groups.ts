import type { FieldChoice } from './edges.ts';

/** Choices whose words hold what is searched for, in their groups as these come first. */
export function choicesInGroups<Choice extends FieldChoice>(
  choices: readonly Choice[],
  search: string,
): { group: string; choices: Choice[] }[] {
  const wanted = search.trim().toLowerCase();
  const groups = new Map<string, Choice[]>();
  for (const choice of choices) {
    if (wanted && !choice.words.toLowerCase().includes(wanted)) continue;
    groups.set(choice.group, [...(groups.get(choice.group) ?? []), choice]);
  }
  return [...groups].map(([group, members]) => ({ group, choices: members }));
}
