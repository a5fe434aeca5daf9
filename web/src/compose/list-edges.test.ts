import { listSchema, type List } from '@bold-compass/core/model';
import { describe, expect, it } from 'vitest';
import { hasRoomForColumns, hasRoomForGroups, moveColumn, placeColumns, placeGroups, removeColumn, removeGroup } from './list-edges.ts';

const list = (columns: string[], groups: string[] = []): List =>
  listSchema.parse({
    ...{ kind: 'list', id: 'list', title: 'Lines', fact: 'orders' },
    ...{ columns: columns.map((field) => ({ field })), groups: groups.map((field) => ({ field })) },
  });
const columns = (own: List): (string | undefined)[] => own.columns.map(({ field, measure }) => field ?? measure);
const groups = (own: List): string[] => own.groups.map(({ field }) => field);

describe('columns of a list', () => {
  it('are put between others, and after all where no place is said', () => {
    expect(columns(placeColumns(list(['a', 'b']), [{ field: 'c' }, { measure: 'm' }], 1))).toEqual(['a', 'c', 'm', 'b']);
    expect(columns(placeColumns(list(['a', 'b']), [{ field: 'a' }]))).toEqual(['a', 'b', 'a']);
  });

  it('move to where they land, and the last one stays', () => {
    expect(columns(moveColumn(list(['a', 'b', 'c']), 0, 2))).toEqual(['b', 'a', 'c']);
    expect(columns(moveColumn(list(['a', 'b', 'c']), 2, 0))).toEqual(['c', 'a', 'b']);
    expect(columns(removeColumn(list(['a', 'b']), 0))).toEqual(['b']);
    expect(columns(removeColumn(list(['a']), 0))).toEqual(['a']);
  });

  it('are as many as a document can hold', () => {
    const own = (count: number): List => list(Array.from({ length: count }, (_, index) => `c${index}`));
    expect([hasRoomForColumns(own(58), 2), hasRoomForColumns(own(59), 2), hasRoomForColumns(own(60), 1)]).toEqual([true, false, false]);
    expect(listSchema.safeParse(placeColumns(own(60), [{ field: 'more' }])).success).toBe(false);
  });
});

describe('groups of a list', () => {
  it('are put between others with their header and footer', () => {
    const placed = placeGroups(list(['a'], ['x', 'y']), ['z'], 1);
    expect(groups(placed)).toEqual(['x', 'z', 'y']);
    expect(placed.groups[1]).toEqual({ field: 'z', header: true, footer: true });
    expect(groups(placeGroups(list(['a'], ['x']), ['z', 'w']))).toEqual(['x', 'z', 'w']);
  });

  it('are as many as a list can have, where those that are there still move', () => {
    const full = list(['a'], ['u', 'v', 'w', 'x', 'y', 'z']);
    expect(hasRoomForGroups(full, ['a'])).toBe(false);
    expect(hasRoomForGroups(full, ['z'])).toBe(true);
    expect(hasRoomForGroups(list(['a'], ['u', 'v', 'w', 'x', 'y']), ['z'])).toBe(true);
  });

  it('move where they are there already, as they were set', () => {
    const own = list(['a'], ['x', 'y', 'z']);
    own.groups[2].footer = false;
    const moved = placeGroups(own, ['z'], 0);
    expect(groups(moved)).toEqual(['z', 'x', 'y']);
    expect(moved.groups[0].footer).toBe(false);
    expect(groups(placeGroups(own, ['x'], 2))).toEqual(['y', 'x', 'z']);
    expect(groups(removeGroup(own, 'y'))).toEqual(['x', 'z']);
  });
});
