import type { ChosenCell } from '@bold-compass/core/chart';
import { pathKey, parsePathKey, type OpenState } from '@bold-compass/core/crosstab';
import { openByChoice, openByKey } from '@bold-compass/core/exhibits';
import type { CrosstabRequest, Path } from '@bold-compass/core/api';
import {
  asCrosstab,
  filterSchema,
  type CellExhibit,
  type Choices,
  type Exhibit,
  type Filter,
  type Report,
  type Scope,
  type Variance,
} from '@bold-compass/core/model';
import { followersOf, openedByLink } from '@bold-compass/core/prompts';
import { explainedFields } from '@bold-compass/core/variance';
import type { LocationQuery, LocationQueryRaw } from 'vue-router';

/**
 * What a reader changed, as the address holds it: scope fields by name, and each exhibit's state under
 * `exhibit.what`, which no field name clashes with since names in addresses with a dot belong to exhibits.
 */

const EVERY = '*';
const CELL = '.cell';

function texts(query: LocationQuery, key: string): string[] | undefined {
  const value = query[key];
  if (value === undefined) return undefined;
  return (Array.isArray(value) ? value : [value]).filter((text): text is string => text !== null);
}

/** The members chosen: those of the address, else the first choice. */
export function readScope(report: Report, query: LocationQuery, first: Scope): Scope {
  const scope: Scope = {};
  const initial = carriesScope(query) ? {} : first;
  for (const prompt of report.prompts) {
    if (prompt.kind !== 'members') continue;
    for (const field of prompt.fields) {
      const chosen = texts(query, field) ?? initial[field];
      if (chosen && chosen.length > 0 && !chosen.includes(EVERY)) scope[field] = chosen;
    }
  }
  for (const key of Object.keys(query).filter(isScopeKey)) {
    const chosen = texts(query, key);
    if (key !== EVERY && !(key in scope) && chosen && chosen.length > 0 && !chosen.includes(EVERY)) scope[key] = chosen;
  }
  return scope;
}

const CHOICE_KEY = 'prompt.';
const LINKED_KEY = 'report.linked';
/** Says in the address that a link led here: what it carries takes the place of first choices. */
export const linkedQuery: LocationQueryRaw = { [LINKED_KEY]: '' };

/** Choices of prompts that are no plain lists of members, as the address holds them. */
export function readChoices(report: Report, query: LocationQuery): Choices {
  const choices: Choices = query[LINKED_KEY] === undefined ? {} : openedByLink(report);
  for (const { id } of report.prompts) {
    const chosen = texts(query, `${CHOICE_KEY}${id}`);
    if (chosen) choices[id] = chosen.length === 1 && chosen[0] === '' ? [] : chosen;
  }
  for (const { id } of report.exhibits) {
    const chosen = texts(query, openByKey(id));
    if (chosen) choices[openByKey(id)] = chosen;
  }
  return choices;
}

/** A choice as address parts; nothing chosen is told apart from the first choice. */
export const choiceQuery = (prompt: string, choice: readonly string[] | undefined): LocationQueryRaw => ({
  [`${CHOICE_KEY}${prompt}`]: choice && (choice.length > 0 ? [...choice] : ''),
});

/** Whether the address names a scope of its own. */
export function carriesScope(query: LocationQuery): boolean {
  return Object.keys(query).some(isScopeKey);
}

/** Exhibits' keys have a dot, and the way of being in a report is `compose`; everything else is scope. */
const isScopeKey = (key: string): boolean => !key.includes('.') && key !== 'compose';

/** A scope as address parts; the marker says that the reader chose, even when everything stands open. */
export function scopeQuery(scope: Scope): LocationQueryRaw {
  const parts = Object.fromEntries(Object.entries(scope).filter(([, members]) => members.length > 0));
  return Object.keys(parts).length > 0 ? parts : { [EVERY]: '' };
}

/** Everything in an address that is not scope. */
export function stateQuery(query: LocationQuery): LocationQueryRaw {
  return Object.fromEntries(Object.entries(query).filter(([key]) => !isScopeKey(key)));
}

export type Orders = CrosstabRequest['side']['order'];

export interface AxisState {
  open: OpenState;
  /** The order a reader chose; null leaves it as it was composed. */
  order: Orders;
  hideEmpty: boolean;
}

export type { ChosenCell };

export interface CrosstabState {
  side: AxisState;
  top: AxisState;
  cell: ChosenCell | null;
}

function readOpen(query: LocationQuery, key: string, initial: number): OpenState {
  const [depth, ...exceptions] = texts(query, key) ?? [];
  const number = Number(depth);
  if (depth === undefined || !Number.isInteger(number) || number < 0 || number > 20) return { depth: initial, exceptions: [] };
  return { depth: number, exceptions };
}

function readOrder(query: LocationQuery, key: string): Orders {
  const [direction, measure, at] = texts(query, key) ?? [];
  if (direction !== 'asc' && direction !== 'desc') return null;
  if (!measure) return { by: 'label', direction };
  return { by: 'measure', measure, direction, at: parsePathKey(at ?? '').filter((part): part is string => part !== null) };
}

/** How a cross-tab stands open, ordered and chosen. Parts that cannot be read fall back to the report's own. */
export function readCrosstabState(exhibit: CellExhibit, query: LocationQuery): CrosstabState {
  const key = (what: string): string => `${exhibit.id}.${what}`;
  const empty = texts(query, key('empty')) ?? [];
  const [side, top, measure] = texts(query, key('cell')) ?? [];
  const axis = (which: 'side' | 'top'): AxisState => ({
    open: readOpen(query, key(which), asCrosstab(exhibit)[which].openLevels),
    order: readOrder(query, key(`${which}-order`)),
    hideEmpty: exhibit[which].hideEmpty !== empty.includes(which),
  });
  const known = exhibit.cells.some((cell) => cell.measure === measure);
  return { side: axis('side'), top: axis('top'), cell: known ? { side: parsePathKey(side), top: parsePathKey(top), measure } : null };
}

export const openQuery = (exhibit: CellExhibit, which: 'side' | 'top', open: OpenState): LocationQueryRaw => ({
  [`${exhibit.id}.${which}`]: [String(open.depth), ...open.exceptions],
});

export const orderQuery = (exhibit: CellExhibit, which: 'side' | 'top', order: Orders): LocationQueryRaw => ({
  [`${exhibit.id}.${which}-order`]:
    order?.by === 'label' ? [order.direction] : order?.by === 'measure' ? [order.direction, order.measure, pathKey(order.at)] : undefined,
});

/**
 * A level opened by another one, in the place of what it was opened by; its usual one where none is said. Below every member, which
 * those that have one of their own then have no more, or below the one at a path.
 */
export function openByQuery(
  exhibit: CellExhibit,
  choices: Choices,
  { from, to, path }: { from: string; to: string | null; path: Path | null },
): LocationQueryRaw {
  const isReplaced = (choice: string): boolean => choice.startsWith(`${from}>`) && (path === null || choice.endsWith(`@${pathKey(path)}`));
  const others = (choices[openByKey(exhibit.id)] ?? []).filter((choice) => !isReplaced(choice));
  const all = to === null ? others : [...others, openByChoice(from, to, path ?? undefined)];
  return { [openByKey(exhibit.id)]: all.length > 0 ? all : undefined };
}

export const cellQuery = (exhibit: { id: string }, cell: ChosenCell | null): LocationQueryRaw => ({
  [`${exhibit.id}${CELL}`]: cell
    ? [pathKey(cell.side), pathKey(cell.top), cell.measure, ...(cell.along === undefined ? [] : [cell.along])]
    : undefined,
});

const FIGURE_KEY = 'report.figure';

/** The exhibit whose chosen figure is the page's: the one that the address names, else the only one, or the first. */
export function chosenIn(onPage: readonly Exhibit[], query: LocationQuery): Exhibit | undefined {
  const withFigure = onPage.filter(({ id }) => query[`${id}${CELL}`] !== undefined);
  return withFigure.find(({ id }) => id === query[FIGURE_KEY]) ?? withFigure[0];
}

/** Chooses a figure, the only one: of the others only those stay that some exhibit follows, and those are none of the margin's. */
export function figureQuery(exhibits: Report['exhibits'], id: string, cell: ChosenCell | null): LocationQueryRaw {
  const isFollowed = (one: Exhibit): boolean => followersOf(exhibits, one.id).length > 0;
  const others = exhibits.filter((one) => one.id !== id && !isFollowed(one));
  return {
    ...Object.fromEntries(others.map((one) => [`${one.id}${CELL}`, undefined])),
    ...cellQuery({ id }, cell),
    [FIGURE_KEY]: cell && exhibits.some((one) => one.id !== id && isFollowed(one)) ? id : undefined,
  };
}

/** The member that is chosen in an exhibit that looks through several fields; null where none is, or not in one of these. */
export function readVarianceCell(exhibit: Variance, query: LocationQuery): (ChosenCell & { along: string }) | null {
  const [side, top, measure, along] = texts(query, `${exhibit.id}.cell`) ?? [];
  return measure !== undefined && along !== undefined && explainedFields(exhibit).includes(along)
    ? { side: parsePathKey(side), top: parsePathKey(top), measure, along }
    : null;
}

/** Which axes show the opposite of what the report says about empty members. */
export function emptyQuery(exhibit: CellExhibit, state: CrosstabState, which: 'side' | 'top'): LocationQueryRaw {
  const exceptions = (['side', 'top'] as const).filter((axis) => (exhibit[axis].hideEmpty !== state[axis].hideEmpty) !== (axis === which));
  return { [`${exhibit.id}.empty`]: exceptions.length > 0 ? exceptions : undefined };
}

/** Opens or closes one member. */
export function toggled(open: OpenState, path: Path): OpenState {
  const key = pathKey(path);
  const exceptions = open.exceptions.includes(key) ? open.exceptions.filter((other) => other !== key) : [...open.exceptions, key];
  return { depth: open.depth, exceptions };
}

const WHERE_KEY = 'report.where';

/** Conditions that came along a link, as the address holds them; null where there are none, or none that can be read. */
export function readWhere(query: LocationQuery): Filter | null {
  const [text] = texts(query, WHERE_KEY) ?? [];
  if (text === undefined) return null;
  try {
    return filterSchema.safeParse(JSON.parse(text)).data ?? null;
  } catch {
    return null;
  }
}

export const whereQuery = (where: Filter | null): LocationQueryRaw => ({ [WHERE_KEY]: where ? JSON.stringify(where) : undefined });
