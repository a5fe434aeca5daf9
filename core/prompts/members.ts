import { z } from 'zod';
import { fieldLabel, fieldPlace, findField, type Dataset, type Filter, type MembersPrompt } from '../model/index.ts';
import type { PromptKind } from './kind.ts';
import { namedWords } from './member-words.ts';

/**
 * Members that are left out, "all but these", are its choice: a text for each field, the field and its members as JSON.
 * Members that are chosen stand in the scope.
 */
const exclusionSchema = z.tuple([z.string()], z.string());

/** The choice that leaves members of a field out. */
export const exclusion = (field: string, members: readonly string[]): string => JSON.stringify([field, ...members]);

/** The members that a choice leaves out, by field; null where it is none. */
export function excludedMembers(choice: readonly string[]): Map<string, string[]> | null {
  const excluded = new Map<string, string[]>();
  for (const text of choice) {
    const read = readExclusion(text);
    if (!read) return null;
    excluded.set(read[0], read.slice(1));
  }
  return excluded;
}

function readExclusion(text: string): string[] | null {
  try {
    return exclusionSchema.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
}

/** Everything but some members: records without a member are among them. Every day has its periods. */
export function allBut(dataset: Dataset, field: string, values: string[]): Filter {
  const rest: Filter = { op: 'notIn', field, values };
  return fieldPlace(dataset, field).kind === 'period' ? rest : { op: 'or', items: [rest, { op: 'empty', field }] };
}

export const membersKind: PromptKind<MembersPrompt> = {
  kind: 'members',
  label: 'Members',
  about: 'Members of a level, or values of a field: one or several, or all but these.',
  names: ({ fields }) => ({ fields, measures: [] }),
  title: ({ fields }, dataset) => {
    const place = findField(dataset, fields[0]);
    if (!place) return fields[0];
    return fields.length > 1 && place.kind === 'level' && place.dimension.tree ? place.dimension.label : place.label;
  },
  initial: () => [],
  isChoice: ({ fields }, choice) => [...(excludedMembers(choice)?.keys() ?? [''])].every((field) => fields.includes(field)),
  membersNamed: (_, choice) =>
    [...(excludedMembers(choice) ?? [])].flatMap(([field, members]) => members.map((member) => ({ field, member }))),
  condition(_, choice, { dataset }) {
    const items = [...(excludedMembers(choice) ?? [])]
      .filter(([, members]) => members.length > 0)
      .map(([field, members]) => allBut(dataset, field, members));
    return items.length === 0 ? null : { op: 'and', items };
  },
  words: ({ fields }, choice, { dataset, label }) =>
    [...(excludedMembers(choice) ?? [])]
      .filter(([field]) => fields.includes(field))
      .map(
        ([field, members]) =>
          `every ${fieldLabel(dataset, field).toLowerCase()} but ${namedWords(members.map((member) => label(field, member)))}`,
      )
      .join(', '),
  create({ id, dataset, about }) {
    const place = about ? findField(dataset, about) : undefined;
    return place ? { id, kind: 'members', fields: [place.name], multiple: true, initial: {} } : null;
  },
};
