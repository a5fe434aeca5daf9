import fc from 'fast-check';
import { expect, it } from 'vitest';
import { SumLanes } from './lanes.ts';

const GROUPS = 5;
const record = fc.record({
  // -1 is left out: whole blocks are handed over with what does not count.
  group: fc.integer({ min: -1, max: GROUPS - 1 }),
  chosen: fc.boolean(),
  values: fc.array(fc.integer(), { minLength: 8, maxLength: 8 }),
});

it('counts records and adds columns up as a sum of each by itself does, however many there are', () => {
  fc.assert(
    fc.property(fc.array(record, { maxLength: 60 }), fc.nat(8), fc.boolean(), (records, columns, all) => {
      const values = Array.from({ length: columns }, (_, column) => records.map((one) => one.values[column]));
      // Whole numbers and floats are read alike.
      const own = values.map((one, column) => (column % 2 === 0 ? Int32Array.from(one) : Float64Array.from(one)));
      const rows = records.flatMap(({ chosen }, row) => (all || chosen ? [row] : []));
      const lanes = new SumLanes(own, GROUPS);
      // In two blocks: what was counted before stays.
      const half = Math.floor(rows.length / 2);
      for (const block of [rows.slice(0, half), rows.slice(half)]) {
        const groups = Int32Array.from(block, (row) => records[row].group);
        lanes.add({ rows: Int32Array.from(block), groups, start: all && block.length > 0 ? block[0] : -1 }, block.length);
      }
      const counted = new Float64Array(GROUPS);
      const sums = own.map(() => new Float64Array(GROUPS));
      lanes.write(counted, sums);

      const of = (group: number): number[] => rows.filter((row) => records[row].group === group);
      const groups = Array.from({ length: GROUPS }, (_, group) => group);
      expect(lanes.counts).toBe(columns > 0);
      if (columns > 0) expect([...counted]).toEqual(groups.map((group) => of(group).length));
      expect(sums.map((sum) => [...sum])).toEqual(
        values.map((column) => groups.map((group) => of(group).reduce((sum, row) => sum + column[row], 0))),
      );
    }),
  );
});
