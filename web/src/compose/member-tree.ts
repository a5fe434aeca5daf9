import type { MembersResponse } from '@bold-compass/core/api';

type Member = MembersResponse['members'][number];

/** A line of a tree of members: a member that can be chosen, or what several stand under. */
interface TreeLine {
  /** Tells lines apart. */
  key: string;
  label: string;
  depth: number;
  /** The members that stand here or below. */
  members: string[];
  /** Whether it has members below it rather than being one itself. */
  isBranch: boolean;
}

const keyOf = (words: readonly string[]): string => JSON.stringify(words);

/**
 * Members as lines of a tree, branches before what stands below them; only those whose words, or whose branch's words,
 * hold `wanted`. Members without a branch stand at the top.
 */
export function memberTree(members: readonly Member[], wanted: string): TreeLine[] {
  interface Branch {
    words: string[];
    branches: Map<string, Branch>;
    members: Member[];
  }
  const branch = (words: string[]): Branch => ({ words, branches: new Map(), members: [] });
  const root = branch([]);
  const search = wanted.trim().toLowerCase();
  for (const member of members) {
    for (const under of member.under ?? [[]]) {
      if (![...under, member.label].some((words) => words.toLowerCase().includes(search))) continue;
      let at = root;
      under.forEach((label, depth) => {
        const words = under.slice(0, depth + 1);
        if (!at.branches.has(label)) at.branches.set(label, branch(words));
        at = at.branches.get(label)!;
      });
      at.members.push(member);
    }
  }
  const below = ({ branches, members: own }: Branch): string[] => [
    ...own.map(({ member }) => member),
    ...[...branches.values()].flatMap(below),
  ];
  const lines = (of: Branch): TreeLine[] => [
    ...of.members.map(({ member, label }) => ({
      ...{ key: keyOf([...of.words, '', member]), label, depth: of.words.length },
      ...{ members: [member], isBranch: false },
    })),
    ...[...of.branches.values()].flatMap((one) => [
      { key: keyOf(one.words), label: one.words.at(-1)!, depth: one.words.length - 1, members: below(one), isBranch: true },
      ...lines(one),
    ]),
  ];
  return lines(root);
}

/** How much of what stands below a line is chosen. */
export function chosenPart({ members }: TreeLine, chosen: ReadonlySet<string>): 'all' | 'some' | 'none' {
  const count = members.filter((member) => chosen.has(member)).length;
  return count === 0 ? 'none' : count === members.length ? 'all' : 'some';
}

/** What is chosen after a line was: all below it, or none of it where all were. */
export function toggled(line: TreeLine, chosen: readonly string[]): string[] {
  const own = new Set(line.members);
  const rest = chosen.filter((member) => !own.has(member));
  return chosenPart(line, new Set(chosen)) === 'all' ? rest : [...rest, ...own];
}
