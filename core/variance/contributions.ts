/** A member in two periods; a value that is missing is none. */
export interface Contribution<Member> {
  member: Member;
  before: number | null;
  after: number | null;
  change: number;
}

/** The members that made most of a difference, the rest together. */
export interface Contributions<Member> {
  named: Contribution<Member>[];
  others: { count: number; before: number; after: number; change: number } | null;
  /**
   * How much few members make of all changes, whichever way these went: the Herfindahl index of their sizes, from 0 where all
   * members are alike to 1 where one made all of it, however many members there are. A single member tells nothing: 0.
   */
  concentration: number;
}

/**
 * Members by how much they changed, whichever way, or by a part of that which is given as their `change`; the first `most` are
 * named.
 */
export function contributionsOf<Member>(
  members: readonly (Omit<Contribution<Member>, 'change'> & { change?: number })[],
  most: number,
): Contributions<Member> {
  const all = members
    .map((own) => ({ ...own, change: own.change ?? (own.after ?? 0) - (own.before ?? 0) }))
    .sort((a, b) => Math.abs(b.change) - Math.abs(a.change));
  const [named, rest] = [all.slice(0, most), all.slice(most)];
  const moved = all.reduce((total, { change }) => total + Math.abs(change), 0);
  const index = moved > 0 ? all.reduce((total, { change }) => total + (change / moved) ** 2, 0) : 0;
  const even = 1 / all.length;
  const sum = (of: 'before' | 'after' | 'change'): number => rest.reduce((total, own) => total + (own[of] ?? 0), 0);
  return {
    named,
    others: rest.length > 0 ? { count: rest.length, before: sum('before'), after: sum('after'), change: sum('change') } : null,
    concentration: all.length > 1 && moved > 0 ? Math.max(0, (index - even) / (1 - even)) : 0,
  };
}
