import { MOST_LIST_COLUMNS, MOST_LIST_GROUPS, type List, type ListColumn } from '@bold-compass/core/model';
import { movedTo } from '../drag/landing.ts';

/** Whether a list can have so many columns more. */
export const hasRoomForColumns = ({ columns }: List, more: number): boolean => columns.length + more <= MOST_LIST_COLUMNS;

/** Columns put before the one at a place, or after all of them. */
export const placeColumns = (list: List, columns: ListColumn[], at = Infinity): List => ({
  ...list,
  columns: list.columns.toSpliced(Math.min(at, list.columns.length), 0, ...columns),
});

/** A column where it landed: before the one that stood at that place. */
export const moveColumn = (list: List, index: number, landing: number): List => ({
  ...list,
  columns: movedTo(list.columns, index, landing),
});

/** Without a column; the last one stays, as a list has at least one. */
export const removeColumn = (list: List, index: number): List =>
  list.columns.length > 1 ? { ...list, columns: list.columns.toSpliced(index, 1) } : list;

/** Whether a list can be grouped by some fields too: those that it is grouped by already only move. */
export const hasRoomForGroups = ({ groups }: List, fields: readonly string[]): boolean =>
  new Set([...groups.map(({ field }) => field), ...fields]).size <= MOST_LIST_GROUPS;

/** Fields to group by, from the outermost in, before the group at a place; one that is there already moves. */
export function placeGroups(list: List, fields: readonly string[], at = Infinity): List {
  const own = (field: string): List['groups'][number] =>
    list.groups.find((group) => group.field === field) ?? { field, header: true, footer: true };
  const isPlaced = ({ field }: List['groups'][number]): boolean => fields.includes(field);
  const before = list.groups.slice(0, at).filter((group) => !isPlaced(group));
  const after = list.groups.slice(at).filter((group) => !isPlaced(group));
  return { ...list, groups: [...before, ...fields.map(own), ...after] };
}

export const removeGroup = (list: List, field: string): List => ({
  ...list,
  groups: list.groups.filter((group) => group.field !== field),
});
