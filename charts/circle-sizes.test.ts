import fc from 'fast-check';
import { expect, it } from 'vitest';
import { POINT_SIZES, radiusOf, sampleValues } from './circle-sizes.ts';

it('areas of circles are in proportion to their values', () => {
  expect(radiusOf(POINT_SIZES, 100, 100)).toBe(26);
  expect(radiusOf(POINT_SIZES, 25, 100)).toBe(13);
  expect(radiusOf(POINT_SIZES, 0, 100)).toBe(4);
});

it('values of a key are round, lie among those that are drawn, and differ', () => {
  fc.assert(
    fc.property(fc.double({ min: 1e-6, max: 1e12, noNaN: true }), (largest) => {
      const [large, small] = sampleValues(largest);
      expect(large).toBeLessThanOrEqual(largest);
      expect(small).toBeLessThan(large);
      for (const value of [large, small])
        expect([1, 2, 5, 10]).toContainEqual(expect.closeTo(value / 10 ** Math.floor(Math.log10(value * (1 + 1e-9))), 6));
    }),
  );
  expect(sampleValues(0)).toEqual([]);
});
