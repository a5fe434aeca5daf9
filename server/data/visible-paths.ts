import { isCombined } from '@bold-compass/core/crosstab';
import type { IsVisiblePath, Sight } from '@bold-compass/core/exhibits';

type Path = readonly (string | null)[];

/** What tells whether somebody may see members of a dataset. */
interface MemberSight {
  isVisible(field: string, member: unknown): Promise<boolean>;
  visibleMembers(field: string): Promise<ReadonlySet<string>>;
}

/** Whether each member of a path is one that the person may see. Missing members, all others and groups are no names. */
async function isVisiblePath(reader: MemberSight, fields: readonly string[], path: Path): Promise<boolean> {
  if (path.length > fields.length) return false;
  for (const [level, member] of path.entries()) {
    if (member === null || isCombined(member)) continue;
    if (!(await reader.visibleMembers(fields[level])).has(member)) return false;
  }
  return true;
}

/** Whether a path is visible, over a reader's dataset. */
export const isVisibleTo =
  (reader: MemberSight): IsVisiblePath =>
  (fields, path) =>
    isVisiblePath(reader, fields, path);

/** What a person may see of what a document names. */
export const sightOf = (reader: MemberSight): Sight => ({
  value: (field, value) => reader.isVisible(field, value),
  async path(fields, path) {
    if (path.length > fields.length) return false;
    const verdicts = path.map((member, level) => (isCombined(member) ? Promise.resolve(true) : reader.isVisible(fields[level], member)));
    return (await Promise.all(verdicts)).every(Boolean);
  },
});
