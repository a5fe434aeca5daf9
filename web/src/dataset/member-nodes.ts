import type { MemberNode } from '@bold-compass/core/api';

/** A member of a dimension with those below it. */
interface MemberBranch {
  id: string;
  title: string;
  rows: number;
  children?: MemberBranch[];
}

/** Members, each told by its path, as a tree; members without a parent among them stand at the top. */
export function memberBranches(members: readonly MemberNode[]): MemberBranch[] {
  const branches = members.map(({ path, label, rows }) => ({
    path,
    branch: { id: JSON.stringify(path), title: label, rows } as MemberBranch,
  }));
  const byId = new Map(branches.map(({ branch }) => [branch.id, branch]));
  const roots: MemberBranch[] = [];
  for (const { path, branch } of branches) {
    const parent = path.length > 1 ? byId.get(JSON.stringify(path.slice(0, -1))) : undefined;
    if (parent) (parent.children ??= []).push(branch);
    else roots.push(branch);
  }
  return roots;
}
