/** Whether a value that something names is one that a person may see. */
export type IsVisible = (field: string, member: unknown) => Promise<boolean>;

/**
 * A part of a document without members that are not seen: values of conditions, first choices of prompts and what links choose, places of orders,
 * members that are ordered by hand or put together. `level` is the field that the part is the settings of.
 */
export async function withoutHidden(part: unknown, seen: IsVisible, axes: string[][], level?: string): Promise<unknown> {
  if (Array.isArray(part)) return Promise.all(part.map((one: unknown) => withoutHidden(one, seen, axes, level)));
  if (typeof part !== 'object' || part === null) return part;
  const kept: Record<string, unknown> = {};
  const { field } = part as { field?: unknown };
  for (const [name, value] of Object.entries(part)) {
    if (name === 'values' && typeof field === 'string' && Array.isArray(value))
      kept[name] = await filterSeen(value, (one) => seen(field, one));
    else if ((name === 'value' || name === 'low' || name === 'high') && typeof field === 'string')
      kept[name] = (await seen(field, value)) ? value : '';
    else if (name === 'levels' && typeof value === 'object' && value !== null) kept[name] = await seenLevels(value, seen, axes);
    else if ((name === 'members' || name === 'less') && Array.isArray(value))
      kept[name] = await filterSeen(value, (one) => (level === undefined ? seenOnSomeAxis(one, seen, axes) : seen(level, one)));
    else if (name === 'branches' && Array.isArray(value))
      kept[name] = await filterSeen(value, (one) => isSeenPlace((one as { path?: unknown[] }).path ?? [], seen, axes));
    else if (name === 'initial' || name === 'chooses') kept[name] = await seenChoices(value, seen);
    else if (name === 'at' && Array.isArray(value)) kept[name] = (await isSeenPlace(value, seen, axes)) ? value : [];
    else kept[name] = await withoutHidden(value, seen, axes, level);
  }
  return kept;
}

async function filterSeen(values: unknown[], isSeen: (value: unknown) => Promise<boolean>): Promise<unknown[]> {
  const verdicts = await Promise.all(values.map(isSeen));
  return values.filter((_, index) => verdicts[index]);
}

async function seenChoices(choices: unknown, seen: IsVisible): Promise<unknown> {
  if (typeof choices !== 'object' || choices === null) return choices;
  const kept: Record<string, unknown> = {};
  for (const [field, members] of Object.entries(choices))
    kept[field] = Array.isArray(members) ? await filterSeen(members, (one) => seen(field, one)) : members;
  return kept;
}

/** A place that an order goes by is a path along one of the axes. */
async function isSeenPlace(path: unknown[], seen: IsVisible, axes: string[][]): Promise<boolean> {
  for (const fields of axes) {
    const verdicts = await Promise.all(
      path.map(async (member, level) => fields[level] !== undefined && (await seen(fields[level], member))),
    );
    if (verdicts.every(Boolean)) return true;
  }
  return axes.length === 0 || path.length === 0;
}

/** Settings of levels, by field: orders by hand and groups name members of it. */
async function seenLevels(levels: object, seen: IsVisible, axes: string[][]): Promise<unknown> {
  const kept: Record<string, unknown> = {};
  for (const [field, settings] of Object.entries(levels)) kept[field] = await withoutHidden(settings, seen, axes, field);
  return kept;
}

/** Stands for a member that does not exist: fields that do not name members let it pass. */
const NOBODY = '\u0000';

/** A member that an order by hand of a whole axis names: of one of its fields that name members. */
async function seenOnSomeAxis(member: unknown, seen: IsVisible, axes: string[][]): Promise<boolean> {
  let namesMembers = false;
  for (const field of axes.flat()) {
    if (await seen(field, NOBODY)) continue;
    namesMembers = true;
    if (await seen(field, member)) return true;
  }
  return !namesMembers;
}
