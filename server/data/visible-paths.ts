import { isCombined } from '@bold-compass/core/crosstab';
import type { IsVisiblePath, Sight } from '@bold-compass/core/exhibits';
import type { DatasetReader } from './dataset-reader.ts';

type Path = readonly (string | null)[];

/** Whether each member of a path is one that the person may see. Missing members, all others and groups are no names. */
async function isVisiblePath(reader: DatasetReader, fields: readonly string[], path: Path): Promise<boolean> {
  if (path.length > fields.length) return false;
  for (const [level, member] of path.entries()) {
    if (member === null || isCombined(member)) continue;
    if (!(await reader.visibleMembers(fields[level])).has(member)) return false;
  }
  return true;
}

/** Whether a path is visible, over a reader's dataset. */
export const isVisibleTo =
  (reader: DatasetReader): IsVisiblePath =>
  (fields, path) =>
    isVisiblePath(reader, fields, path);

/** What a person may see of what a document names. */
export const sightOf = (reader: DatasetReader): Sight => ({
  value: (field, value) => reader.isVisible(field, value),
  async path(fields, path) {
    if (path.length > fields.length) return false;
    const verdicts = path.map((member, level) => (isCombined(member) ? Promise.resolve(true) : reader.isVisible(fields[level], member)));
    return (await Promise.all(verdicts)).every(Boolean);
  },
});
