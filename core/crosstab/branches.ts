import type { Branch, Crosstab } from '../model/index.ts';
import { OTHERS } from './plan.ts';

type Path = readonly (string | null)[];

/** How the first member of a branch stands in a path: the level that it is of, then the member. */
const BRANCH = `${OTHERS}>`;
export const branchPart = (field: string, member: string | null): string => `${BRANCH}${field}${member === null ? '' : `=${member}`}`;

/** The level and the member that a part of a path stands for, where that is the first of a branch; null for any other. */
export function branchedMember(part: string | null | undefined): { field: string; member: string | null } | null {
  if (!part?.startsWith(BRANCH)) return null;
  const [, field, member] = /^([^=]*)(?:=(.*))?$/s.exec(part.slice(BRANCH.length))!;
  return { field, member: member ?? null };
}

/** Whether a path leads into any branch. */
export const isBranched = (path: Path): boolean => path.some((part) => branchedMember(part) !== null);

/** A path without what says that it leads into a branch. */
export const plainPath = (path: Path): (string | null)[] =>
  path.map((part) => {
    const own = branchedMember(part);
    return own ? own.member : part;
  });

/** Whether a path is that of something below a member. */
export const isUnder = (path: Path, member: Path): boolean =>
  path.length > member.length && member.every((part, level) => part === path[level]);

/** The branch that a path leads into; undefined where it leads into none, or into one that is not there. */
export const branchOf = ({ side: { branches = [] } }: Pick<Crosstab, 'side'>, path: Path): Branch | undefined =>
  branches.find(
    ({ path: member, fields }) => isUnder(path, member) && branchedMember(path[member.length])?.field === fields[member.length],
  );

/** The fields down the side that a path is of, and the path without what says so; null for one into a branch that is not there. */
export function placedOnSide(exhibit: Pick<Crosstab, 'side'>, path: Path): { fields: string[]; path: (string | null)[] } | null {
  if (!isBranched(path)) return { fields: exhibit.side.fields, path: [...path] };
  const branch = branchOf(exhibit, path);
  return branch ? { fields: branch.fields, path: plainPath(path) } : null;
}
