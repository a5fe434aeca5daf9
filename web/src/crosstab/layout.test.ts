import { describe, expect, it } from 'vitest';
import { GrowingRooms, placed } from './layout.ts';

describe('rooms of measures', () => {
  it('only ever grow', () => {
    const rooms = new GrowingRooms();
    const [wide] = rooms.fit([['1,234,567']], ['Net'], [0]);
    expect(rooms.fit([['1']], ['Net'], [0])).toEqual([wide]);
    const [wider] = rooms.fit([['1,234,567,890']], ['Net'], [0]);
    expect(wider.width).toBeGreaterThan(wide.width);
    expect(wider.figure).toBeGreaterThan(wide.figure);
  });
  it('give what is drawn beside a text a place that its texts leave free', () => {
    const [room] = new GrowingRooms().fit([['1,234']], ['N'], [100]);
    expect(room.width - room.figure).toBeGreaterThanOrEqual(100);
  });
});

describe('labels', () => {
  const label = (column: number | null, indent = 0) => ({ text: 'Nordic', column, indent, toggle: null, room: false });
  it('are moved in as a tree, and stand in their columns otherwise', () => {
    expect(placed([label(null, 2)], null, 200, 19)).toEqual([
      { text: 'Nordic', left: 0, width: 200, indent: 38, toggle: null, room: false },
    ]);
    const columns = [
      { left: 0, width: 90 },
      { left: 90, width: 80 },
    ];
    expect(placed([label(0), label(1), label(null)], columns, 170, 19).map(({ left, width }) => [left, width])).toEqual([
      [0, 90],
      [90, 80],
      [0, 170],
    ]);
  });
});
