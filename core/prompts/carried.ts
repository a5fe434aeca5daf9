import { fieldLabel, fieldsOf, findField, type Choices, type Dataset, type Filter, type ExhibitLink, type Report } from '../model/index.ts';
import { promptKindOf } from './registry.ts';
import type { AskedConditions } from './state.ts';

/** A condition with other names for some of its fields. */
function renamed(filter: Filter, nameOf: (field: string) => string): Filter {
  if ('items' in filter) return { ...filter, items: filter.items.map((item) => renamed(item, nameOf)) };
  if (filter.op === 'not') return { ...filter, item: renamed(filter.item, nameOf) };
  return { ...filter, field: nameOf(filter.field) };
}

const itemsOf = (filter: Filter | null): Filter[] => (filter === null ? [] : filter.op === 'and' ? filter.items : [filter]);

/** The field of another dataset that a field is: of the same name, or with the same label. */
function sameField(own: Dataset, other: Dataset, field: string): string {
  if (findField(other, field)) return field;
  const label = fieldLabel(own, field).toLowerCase();
  const named = other.dimensions
    .flatMap(({ levels }): { name: string; label: string }[] => [...levels])
    .filter((level) => level.label.toLowerCase() === label);
  // Of two of the same label nobody can tell which is meant.
  return named.length === 1 ? named[0].name : field;
}

/**
 * What a link carries along: without what is dropped, and under the names that fields have where it leads. `target` is the
 * dataset there, where that is another one.
 */
export function carriedAlong(
  { drop = [], pairs = {} }: ExhibitLink,
  { scope, where }: AskedConditions,
  own: Dataset,
  target: Dataset | null,
): AskedConditions {
  const isDropped = (field: string): boolean => drop.includes(field);
  const nameOf = (field: string): string => pairs[field] ?? (target ? sameField(own, target, field) : field);
  const items = itemsOf(where).filter((item) => !fieldsOf(item).some(isDropped));
  const kept = items.map((item) => renamed(item, nameOf));
  return {
    scope: Object.fromEntries(Object.entries(scope).flatMap(([field, members]) => (isDropped(field) ? [] : [[nameOf(field), members]]))),
    where: kept.length === 0 ? null : kept.length === 1 ? kept[0] : { op: 'and', items: kept },
  };
}

/**
 * The choices of a report that a link opens: what the link carries takes the place of first choices that are conditions, so
 * that the report shows what the figure counted. A prompt that has to be answered keeps its first choice.
 */
export const openedByLink = ({ prompts }: Pick<Report, 'prompts'>): Choices =>
  Object.fromEntries(
    prompts.filter((prompt) => prompt.kind !== 'members' && promptKindOf(prompt).condition && !prompt.required).map(({ id }) => [id, []]),
  );

const SAFE = /^(?:https?:\/\/|mailto:)/;

/** A web address with its values written in, each encoded; null where it is none that may be opened. */
export function filledAddress(address: string, values: ReadonlyMap<string, string>): string | null {
  const filled = address.replaceAll(/\{([^{}]{1,80})\}/g, (_match, name: string) => encodeURIComponent(values.get(name.trim()) ?? ''));
  return SAFE.test(filled) && URL.canParse(filled) ? filled : null;
}
