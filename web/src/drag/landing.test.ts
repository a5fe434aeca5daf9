import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { landingAt, movedBy, movedTo } from './landing.ts';

const boxAt = (left: number, top: number): HTMLElement => {
  const element = document.createElement('li');
  element.getBoundingClientRect = () => ({ left, top, width: 20, height: 10 }) as DOMRect;
  return element;
};
const at = (clientX: number, clientY: number): DragEvent => ({ clientX, clientY }) as DragEvent;

describe('a dragged thing', () => {
  it('lands before the first whose middle it has not passed', () => {
    const below = [boxAt(0, 0), boxAt(0, 10), boxAt(0, 20)];
    expect([0, 4, 6, 14, 16, 24, 26, 90].map((y) => landingAt(at(500, y), below, true))).toEqual([0, 0, 1, 1, 2, 2, 3, 3]);
    const beside = [boxAt(0, 0), boxAt(20, 0)];
    expect([9, 11, 29, 31].map((x) => landingAt(at(x, 500), beside, false))).toEqual([0, 1, 1, 2]);
    expect(landingAt(at(3, 3), [], true)).toBe(0);
  });

  it('stands where it landed, and nothing else has moved', () => {
    expect(movedTo(['a', 'b', 'c', 'd'], 0, 3)).toEqual(['b', 'c', 'a', 'd']);
    expect(movedTo(['a', 'b', 'c', 'd'], 3, 0)).toEqual(['d', 'a', 'b', 'c']);
    fc.assert(
      fc.property(fc.array(fc.integer(), { minLength: 1 }), fc.nat(), fc.nat(), (values, one, other) => {
        const items = values.map((value) => ({ value }));
        const [from, landing] = [one % items.length, other % (items.length + 1)];
        const moved = movedTo(items, from, landing);
        expect(moved.filter((item) => item !== items[from])).toEqual(items.filter((item) => item !== items[from]));
        expect(moved.indexOf(items[from])).toBe(landing > from ? landing - 1 : landing);
        if (from > 0) expect(movedBy(items, from, -1)).toEqual(movedTo(items, from, from - 1));
        if (from < items.length - 1) expect(movedBy(movedBy(items, from, 1), from + 1, -1)).toEqual(items);
        // Beside itself on either side it stays.
        if (landing === from || landing === from + 1) expect(moved).toEqual(items);
      }),
    );
  });
});
