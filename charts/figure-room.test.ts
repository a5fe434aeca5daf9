import fc from 'fast-check';
import { expect, it } from 'vitest';
import { endsWithFigures } from './figure-room.ts';

const ROOM = 400;

it('figures at the ends of bars lie within the scale, however long bars and figures are', () => {
  const bar = fc.record({ value: fc.integer({ min: -5_000, max: 5_000 }), width: fc.integer({ min: 5, max: 90 }) });
  fc.assert(
    fc.property(fc.array(bar, { minLength: 1, maxLength: 12 }), (bars) => {
      const ends = endsWithFigures(bars, ROOM);
      if (ends === null) return void expect(bars.every(({ value }) => value === 0)).toBe(true);
      const at = (value: number): number => ((value - ends.min) / (ends.max - ends.min)) * ROOM;
      for (const { value, width } of bars) {
        if (value < 0) expect(at(value) - width).toBeGreaterThan(0);
        else expect(at(value) + width).toBeLessThan(ROOM);
      }
    }),
  );
});

it('holds the ends that several charts have in common, and has no room on a side without bars', () => {
  expect(endsWithFigures([{ value: 50, width: 88 }], ROOM, { min: 0, max: 150 })).toEqual({ min: 0, max: 200 });
  expect(endsWithFigures([{ value: 0, width: 20 }], ROOM)).toBeNull();
});
