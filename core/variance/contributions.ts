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
  /** From 0 to 1: how much of all changes the named members are, whichever way they went. */
  concentration: number;
}

/** Members by how much they changed, whichever way; the first `most` are named. */
export function contributionsOf<Member>(members: readonly Omit<Contribution<Member>, 'change'>[], most: number): Contributions<Member> {
  const all = members
    .map((own) => ({ ...own, change: (own.after ?? 0) - (own.before ?? 0) }))
    .sort((a, b) => Math.abs(b.change) - Math.abs(a.change));
  const [named, rest] = [all.slice(0, most), all.slice(most)];
  const moved = (from: typeof all): number => from.reduce((sum, { change }) => sum + Math.abs(change), 0);
  const sum = (of: 'before' | 'after'): number => rest.reduce((total, own) => total + (own[of] ?? 0), 0);
  return {
    named,
    others:
      rest.length > 0 ? { count: rest.length, before: sum('before'), after: sum('after'), change: sum('after') - sum('before') } : null,
    concentration: moved(all) > 0 ? moved(named.slice(0, LEADING)) / moved(all) : 0,
  };
}

/** Members that a field is judged by: where few make most of the difference, it tells more. */
const LEADING = 3;
