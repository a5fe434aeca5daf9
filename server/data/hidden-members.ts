/** Whether a value that something names is one that a person may see. */
export type IsVisible = (field: string, member: unknown) => Promise<boolean>;

/** A part of a document without members that are not seen: values of conditions, first choices of prompts, places of orders. */
export async function withoutHidden(part: unknown, seen: IsVisible, axes: string[][]): Promise<unknown> {
  if (Array.isArray(part)) return Promise.all(part.map((one: unknown) => withoutHidden(one, seen, axes)));
  if (typeof part !== 'object' || part === null) return part;
  const kept: Record<string, unknown> = {};
  const { field } = part as { field?: unknown };
  for (const [name, value] of Object.entries(part)) {
    if (name === 'values' && typeof field === 'string' && Array.isArray(value))
      kept[name] = await filterSeen(value, (one) => seen(field, one));
    else if ((name === 'value' || name === 'low' || name === 'high') && typeof field === 'string')
      kept[name] = (await seen(field, value)) ? value : '';
    else if (name === 'initial') kept[name] = await seenChoices(value, seen);
    else if (name === 'at' && Array.isArray(value)) kept[name] = (await isSeenPlace(value, seen, axes)) ? value : [];
    else kept[name] = await withoutHidden(value, seen, axes);
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
