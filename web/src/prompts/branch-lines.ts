import type { MembersResponse } from '@bold-compass/core/api';
import { LOCALE, naturalOrderOf } from '@bold-compass/core/format';

/** A line of the tree of a hierarchy. */
interface BranchLine {
  key: string;
  /** The members that lead to it, itself last. */
  path: string[];
  label: string;
  canOpen: boolean;
  isOpen: boolean;
}

/** Whether a branch is another one or stands below it. */
export const isUnder = (path: readonly string[], branch: readonly string[]): boolean =>
  branch.length <= path.length && branch.every((member, level) => path[level] === member);

const { compare } = naturalOrderOf(LOCALE);

interface Branch {
  label: string;
  path: string[];
  children: Map<string, Branch>;
}

/**
 * Members told with what they stand under, those of the finest level or of each, as lines of a tree: branches of those that are opened,
 * or, with a search, every branch whose words hold it, with the way to it.
 */
export function branchLines(members: MembersResponse['members'], opened: ReadonlySet<string>, search: string): BranchLine[] {
  const root: Branch = { label: '', path: [], children: new Map() };
  for (const { member, label, under = [[]], paths = [[]] } of members) {
    paths.forEach((above, index) => {
      // Trees are uneven: what has no member at a level goes on above it.
      const path = [...above, member].filter((one): one is string => one !== null);
      const labels = [...under[index], label].filter((_, level) => [...above, member][level] !== null);
      let at = root;
      path.forEach((own, level) => {
        if (!at.children.has(own)) at.children.set(own, { label: labels[level], path: path.slice(0, level + 1), children: new Map() });
        at = at.children.get(own)!;
      });
    });
  }
  const wanted = search.trim().toLowerCase();
  const holds = ({ label, children }: Branch): boolean => label.toLowerCase().includes(wanted) || [...children.values()].some(holds);
  const lines = (of: Branch): BranchLine[] =>
    [...of.children.values()]
      .filter((branch) => wanted === '' || holds(branch))
      .sort((a, b) => compare(a.label, b.label))
      .flatMap((branch) => {
        const key = JSON.stringify(branch.path);
        const isOpen = branch.children.size > 0 && (wanted === '' ? opened.has(key) : [...branch.children.values()].some(holds));
        const line = { key, path: branch.path, label: branch.label, canOpen: branch.children.size > 0, isOpen };
        return [line, ...(isOpen ? lines(branch) : [])];
      });
  return lines(root);
}
