import type { MemberGroup } from '@bold-compass/core/model';
import { nameFor } from '@bold-compass/core/modelling';

const LONGEST_LABEL = 80;

/** The groups of a level with another one at the end, and its id. It stands in the place of its members. */
export function withNewGroup(
  groups: readonly MemberGroup[],
  { label, members }: Pick<MemberGroup, 'label' | 'members'>,
): { groups: MemberGroup[]; id: string } {
  const id = nameFor('group', new Set(groups.map((group) => group.id))).replaceAll('_', '-');
  return { id, groups: [...groups, { id, label: label.slice(0, LONGEST_LABEL), members, instead: true }] };
}

/** The groups of a level, one of them with another member. */
export const withMemberIn = (groups: readonly MemberGroup[], id: string, member: string): MemberGroup[] =>
  groups.map((group) => (group.id === id && !group.members.includes(member) ? { ...group, members: [...group.members, member] } : group));
