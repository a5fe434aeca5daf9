import { allOf, type Choices, type Filter, type ReaderScope, type Scope } from '../model/index.ts';

/** One of the sections that something is repeated in: a member of a level; null for records that have none there. */
export interface Section {
  field: string;
  member: string | null;
}

/**
 * Under which name choices hold the section that is asked for: of the page, or of an exhibit that has sections of its own. No
 * prompt has an id with a dot.
 */
export const sectionKey = (exhibit?: string): string => `${exhibit ?? 'report'}.section`;

/** A section as a choice; all members together are none. */
export const sectionChoice = ({ field, member }: Section): string[] => (member === null ? [field] : [field, member]);

const readChoice = (choice: readonly string[] | undefined): Section[] =>
  choice?.[0] === undefined ? [] : [{ field: choice[0], member: choice[1] ?? null }];

/** The sections that an exhibit is asked in, the outer one first; that of the page where no exhibit is named. */
export const chosenSections = (choices: Choices, exhibit?: string): Section[] => [
  ...readChoice(choices[sectionKey()]),
  ...(exhibit === undefined ? [] : readChoice(choices[sectionKey(exhibit)])),
];

/** What a reader asks under, in a section; in all of them together where it is null. */
export function withSection<Asked extends Pick<ReaderScope, 'choices'>>(asked: Asked, section: Section | null, exhibit?: string): Asked {
  const choices = { ...asked.choices };
  delete choices[sectionKey(exhibit)];
  if (section) choices[sectionKey(exhibit)] = sectionChoice(section);
  return { ...asked, choices };
}

/** What is asked, in the sections that something else is asked in. */
export function inSectionsOf<Asked extends Pick<ReaderScope, 'choices'>>(
  asked: Asked,
  other: Pick<ReaderScope, 'choices'>,
  exhibit: string,
): Asked {
  const choices = { ...asked.choices };
  for (const key of [sectionKey(), sectionKey(exhibit)]) {
    delete choices[key];
    if (other.choices[key]) choices[key] = other.choices[key];
  }
  return { ...asked, choices };
}

/**
 * What is asked, in sections: each is a chosen member, as a reader chooses members, so that links carry it along. Where others are
 * chosen of the same field both hold, and nothing is left.
 */
export function askedInSections(
  asked: { scope: Scope; where: Filter | null },
  sections: readonly Section[],
): { scope: Scope; where: Filter | null } {
  return sections.reduce(({ scope, where }, { field, member }) => {
    const chosen = scope[field] ?? [];
    if (member === null) return { scope, where: allOf(where, { op: 'empty', field }) };
    if (chosen.length > 0 && !chosen.includes(member)) return { scope, where: allOf(where, { op: 'in', field, values: [member] }) };
    return { scope: { ...scope, [field]: [member] }, where };
  }, asked);
}
