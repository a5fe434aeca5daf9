import type { CrosstabRequest } from '@bold-compass/core/api';
import { OTHERS, parsePathKey } from '@bold-compass/core/crosstab';
import type { Crosstab, Filter, Order, Report } from '@bold-compass/core/model';
import type { Desk } from '../data/index.ts';
import { ApiError } from '../problems/index.ts';

/**
 * What comes from outside and names members, held against those that the person may see. A member that is not theirs is
 * treated as one that does not exist, so that nobody learns from an answer which of the two it is. Every path, key and
 * document goes through here; scopes go through `checkScope`.
 */

type Path = readonly (string | null)[];

/** Whether each member of a path is one that the person may see. Missing members and all others are no names. */
export async function isVisiblePath(desk: Desk, fields: readonly string[], path: Path): Promise<boolean> {
  if (path.length > fields.length) return false;
  for (const [level, member] of path.entries()) {
    if (member === null || member === OTHERS) continue;
    if (!(await desk.visibleMembers(fields[level])).has(member)) return false;
  }
  return true;
}

/** Refuses a cell whose members are not the person's to see. Throws ApiError `scope-unknown`. */
export async function requireVisibleCell(desk: Desk, { side, top }: Crosstab, cell: { side: Path; top: Path }): Promise<void> {
  const seen = (await isVisiblePath(desk, side.fields, cell.side)) && (await isVisiblePath(desk, top.fields, cell.top));
  if (!seen)
    throw new ApiError('scope-unknown', 'The chosen cell is not in this cross-tab, or not among what you may see. Choose another one.');
}

async function visibleOrder(desk: Desk, fields: readonly string[], order: Order | null): Promise<Order | null> {
  return order?.by === 'measure' && !(await isVisiblePath(desk, fields, order.at)) ? null : order;
}

/** A window as asked for, without opened members and orders that are not the person's to see. */
export async function visibleRequest(desk: Desk, exhibit: Crosstab, request: CrosstabRequest): Promise<CrosstabRequest> {
  const axis = async (which: 'side' | 'top', across: 'side' | 'top'): Promise<CrosstabRequest['side']> => {
    const { open, order, hideEmpty } = request[which];
    const flipped: string[] = [];
    for (const key of open.flipped) if (await isVisiblePath(desk, exhibit[which].fields, parsePathKey(key))) flipped.push(key);
    return { open: { ...open, flipped }, order: await visibleOrder(desk, exhibit[across].fields, order), hideEmpty };
  };
  return { ...request, side: await axis('side', 'top'), top: await axis('top', 'side') };
}

/** Conditions as a person may read them: members that are not theirs to see are left out of the words. */
export async function visibleFilter(desk: Desk, filter: Filter | null): Promise<Filter | null> {
  if (filter === null || desk.restriction === null) return filter;
  return (await withoutHidden(filter, seenBy(desk), [])) as Filter;
}

const seenBy =
  (desk: Desk): Seen =>
  async (field, member) =>
    typeof member !== 'string' || !desk.namesMembers(field) || (await desk.visibleMembers(field)).has(member);

type Seen = (field: string, member: unknown) => Promise<boolean>;

/**
 * A document as a reader gets it: members that conditions, orders and prompts of its maker name are left out where they
 * are not the reader's to see. What the report shows is worked out from the document as it is.
 */
export async function visibleDocument(desk: Desk, report: Report, deskOf: (dataset: string) => Promise<Desk>): Promise<Report> {
  if (desk.restriction === null) return report;
  const exhibits = await Promise.all(
    report.exhibits.map(async (exhibit) => {
      const dataset = 'dataset' in exhibit && typeof exhibit.dataset === 'string' ? exhibit.dataset : undefined;
      const own = dataset === undefined || dataset === report.dataset ? desk : await deskOf(dataset);
      const fields = exhibit.kind === 'crosstab' ? [exhibit.side.fields, exhibit.top.fields] : [];
      return (await withoutHidden(exhibit, seenBy(own), fields)) as typeof exhibit;
    }),
  );
  const rest = { ...report, exhibits: [] };
  return { ...((await withoutHidden(rest, seenBy(desk), [])) as Report), exhibits };
}

/** A part of a document without members that are not seen: values of conditions, first choices of prompts, places of orders. */
async function withoutHidden(part: unknown, seen: Seen, axes: string[][]): Promise<unknown> {
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

async function seenChoices(choices: unknown, seen: Seen): Promise<unknown> {
  if (typeof choices !== 'object' || choices === null) return choices;
  const kept: Record<string, unknown> = {};
  for (const [field, members] of Object.entries(choices))
    kept[field] = Array.isArray(members) ? await filterSeen(members, (one) => seen(field, one)) : members;
  return kept;
}

/** A place that an order goes by is a path along one of the axes. */
async function isSeenPlace(path: unknown[], seen: Seen, axes: string[][]): Promise<boolean> {
  for (const fields of axes) {
    const verdicts = await Promise.all(path.map((member, level) => (fields[level] === undefined ? false : seen(fields[level], member))));
    if (verdicts.every(Boolean)) return true;
  }
  return axes.length === 0 || path.length === 0;
}
