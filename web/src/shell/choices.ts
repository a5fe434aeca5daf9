/** Something that can be chosen from a list. */
export interface Choice {
  value: string;
  title: string;
  /** Heading that it stands under. */
  group?: string;
}

type ChoiceItem = Choice | { type: 'subheader'; title: string };

/** Choices under the headings of their groups, which stand in the order in which they come first. */
export function inGroups(choices: readonly Choice[]): ChoiceItem[] {
  const groups = new Map<string, Choice[]>();
  for (const choice of choices) groups.set(choice.group ?? '', [...(groups.get(choice.group ?? '') ?? []), choice]);
  return [...groups].flatMap(([title, members]) => (title === '' ? members : [{ type: 'subheader' as const, title }, ...members]));
}
