import { isBranched, parsePathKey, pathKey } from '../crosstab/index.ts';
import {
  fieldPlace,
  findField,
  isSameDimension,
  type Branch,
  type Choices,
  type Crosstab,
  type Dataset,
  type Exhibit,
} from '../model/index.ts';
import type { Swap } from '../prompts/index.ts';

/** Under which name choices hold what members of a cross-tab open by instead of their usual level. No prompt has an id with a dot. */
export const openByKey = (exhibit: string): string => `${exhibit}.open-by`;

/** A level in the place of another one, as a choice: below every member, or below the one at a path. */
export const openByChoice = (from: string, to: string, path?: readonly (string | null)[]): string =>
  `${from}>${to}${path ? `@${pathKey(path)}` : ''}`;

interface OpenedBy {
  from: string;
  to: string;
  /** The member that it is below; null for all. */
  path: (string | null)[] | null;
}
/** Choices of `openByChoice`, read again; what is none is left out. */
const readChoices = (exhibit: string, choices: Choices): OpenedBy[] =>
  (choices[openByKey(exhibit)] ?? []).flatMap((choice) => {
    const [, from, to, key] = /^([^>@]+)>([^>@]+)(?:@(.+))?$/s.exec(choice) ?? [];
    return from === undefined ? [] : [{ from, to, path: key === undefined ? null : parsePathKey(key) }];
  });

/** The levels of one dimension from a field on: they go together. */
export function runFrom(dataset: Dataset, fields: readonly string[], from: string): string[] {
  const at = fields.indexOf(from);
  const place = fieldPlace(dataset, from);
  const rest = fields.slice(at + 1);
  const end = rest.findIndex((field) => !isSameDimension(place, fieldPlace(dataset, field)));
  return [from, ...(end < 0 ? rest : rest.slice(0, end))];
}

/** Levels in the place of others down the side of a cross-tab, as its reader chose; what is unknown there changes nothing. */
export function openBySwaps(exhibit: Exhibit, choices: Choices, dataset: Dataset): Swap[] {
  if (exhibit.kind !== 'crosstab') return [];
  const { fields } = (exhibit satisfies Crosstab).side;
  return readChoices(exhibit.id, choices).flatMap(({ from, to, path }) => {
    const name = levelNamed(dataset, to);
    if (path !== null || !fields.includes(from) || name === null) return [];
    return [{ measures: new Map<string, string>(), fields: [{ from: runFrom(dataset, fields, from), to: [name] }] }];
  });
}

/** A field that members can be opened by; null for what is none. */
function levelNamed(dataset: Dataset, field: string): string | null {
  const place = findField(dataset, field);
  return place && place.kind !== 'attribute' ? place.name : null;
}

/** Each is a table of its own to work out: no more of them are. */
const MOST_BRANCHES = 20;

/** A cross-tab with the members that its reader opened by a level of their own; those that are not there change nothing. */
export function withBranches(exhibit: Crosstab, choices: Choices, dataset: Dataset): Crosstab {
  const { fields } = exhibit.side;
  const branches = readChoices(exhibit.id, choices).flatMap(({ to, path }): Branch[] => {
    const name = levelNamed(dataset, to);
    const from = path && fields[path.length];
    if (!path || !from || name === null || fields.includes(name) || isBranched(path)) return [];
    const run = runFrom(dataset, fields, from);
    const rest = fields.slice(path.length).filter((field) => !run.includes(field));
    return [{ path, fields: [...fields.slice(0, path.length), name, ...rest] }];
  });
  return branches.length > 0 ? { ...exhibit, side: { ...exhibit.side, branches: branches.slice(0, MOST_BRANCHES) } } : exhibit;
}
