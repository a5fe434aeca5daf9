import fc from 'fast-check';
import { expect, it } from 'vitest';
import { MemberPlaces } from './member-places.ts';

const [CELLS, MEMBERS] = [4, 6];
const group = fc.record({ cell: fc.integer({ min: -1, max: CELLS - 1 }), member: fc.integer({ min: -1, max: MEMBERS - 1 }) });

it('has one place for each member in a cell, which it keeps whatever comes after', () => {
  fc.assert(
    fc.property(fc.array(fc.array(group, { maxLength: 30 }), { minLength: 1, maxLength: 4 }), (parts) => {
      const places = new MemberPlaces(CELLS);
      const known = new Map<string, number>();
      for (const part of parts) {
        const given = places.add(
          Int32Array.from(part, ({ cell }) => cell),
          Int32Array.from(part, ({ member }) => member),
        );
        part.forEach(({ cell, member }, at) => {
          if (cell < 0 || member < 0) return expect(given[at]).toBe(-1);
          const key = `${cell} ${member}`;
          if (known.has(key)) expect(given[at]).toBe(known.get(key));
          known.set(key, given[at]);
        });
      }
      expect(places.size).toBe(known.size);
      // Places are numbered without a gap, as arrays of figures are.
      expect([...known.values()].sort((a, b) => a - b)).toEqual(Array.from({ length: known.size }, (_, place) => place));
      for (let cell = 0; cell < CELLS; cell++) {
        const own = Array.from({ length: MEMBERS }, (_, member) => known.get(`${cell} ${member}`) ?? -1);
        own.forEach((place, member) => expect(places.find(cell, member)).toBe(place));
        expect(places.membersOf(cell, () => true)).toEqual(own.flatMap((place, member) => (place < 0 ? [] : [member])));
        expect(places.membersOf(cell, (place) => place % 2 === 0)).toEqual(
          own.flatMap((place, member) => (place >= 0 && place % 2 === 0 ? [member] : [])),
        );
      }
    }),
  );
});
