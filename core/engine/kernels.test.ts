import fc from 'fast-check';
import { expect, it } from 'vitest';
import { keepSelected } from './kernels.ts';

it('moves together what is not left out, and tells which records these are', () => {
  fc.assert(
    fc.property(fc.array(fc.integer({ min: -1, max: 2 ** 31 - 1 }), { maxLength: 40 }), fc.nat(1_000), (groups, from) => {
      const [own, rows] = [Int32Array.from(groups), new Int32Array(groups.length)];
      const kept = keepSelected(own, rows, from, groups.length);
      const expected = groups.flatMap((group, k) => (group < 0 ? [] : [{ group, row: from + k }]));
      expect(Array.from({ length: kept }, (_, k) => ({ group: own[k], row: rows[k] }))).toEqual(expected);
    }),
  );
});
