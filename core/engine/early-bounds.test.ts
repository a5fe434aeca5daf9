import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { datasetSchema, type Filter } from '../model/index.ts';
import { refuseEarly } from './early-bounds.ts';
import { columnFrom, CrosstabTooLargeError, planQuery, runQuery, type Query, type Store } from './index.ts';

/** Records with two texts of so many members that groups are numbered as they come. */
const MEMBERS = 100;
const dataset = datasetSchema.parse({
  ...{ schemaVersion: 1, name: 'pairs', label: 'Pairs', dimensions: [], measures: [] },
  facts: [
    {
      ...{ name: 'pairs', label: 'Pairs', record: { one: 'pair', many: 'pairs' }, table: 't' },
      fields: ['left', 'right'].map((name) => ({ name, label: name, column: name, type: 'text' })),
    },
  ],
});
const nameOf = (member: number): string => `m${String(member).padStart(3, '0')}`;
function storeOf(pairs: [number, number][]): Store {
  // Every member is in the dictionaries; not every one has records under a condition.
  const all = Array.from({ length: MEMBERS }, (_, member): [number, number] => [member, member]);
  const records = [...all, ...pairs];
  const column = (side: 0 | 1) =>
    columnFrom(
      'text',
      records.map((pair) => nameOf(pair[side])),
    );
  return {
    ...{ version: 'pairs@1', calendar: { first: 0, days: 0 }, dimensions: {}, rollups: {} },
    facts: { pairs: { rows: records.length, columns: { left: column(0), right: column(1) }, links: {} } },
  };
}
const below = (field: string, member: number): Filter => ({ op: 'lt', field, value: nameOf(member) });
const filter = fc.oneof(
  fc.constant(null),
  fc.nat(MEMBERS).map((member) => below('left', member)),
  fc
    .tuple(fc.nat(MEMBERS), fc.nat(MEMBERS))
    .map(([left, right]): Filter => ({ op: 'or', items: [below('left', left), below('right', right)] })),
);
const pairs = fc.array(fc.tuple(fc.nat(MEMBERS - 1), fc.nat(MEMBERS - 1)), { maxLength: 80 });

const outcome = (work: () => unknown): unknown => {
  try {
    work();
    return null;
  } catch (error) {
    return error instanceof CrosstabTooLargeError ? [error.rows, error.columns] : error;
  }
};

describe('a table that would be too large', () => {
  it('is refused before its groups are counted just as it would be after', () => {
    let refused = 0;
    fc.assert(
      fc.property(
        pairs,
        filter,
        fc.integer({ min: 1, max: 12_000 }),
        fc.integer({ min: 1, max: 130 }),
        (records, condition, cells, lines) => {
          const store = storeOf(records);
          const query: Query = {
            ...{ fact: 'pairs', filter: condition, levels: ['left', 'right'], aggregates: [] },
            sets: [[0, 1], [0], [1], []],
          };
          // Where a condition leaves few members, groups are counted at once.
          const { dense } = planQuery(dataset, store, query).grouping;
          // Rows are the left ones and their total, columns the right ones and theirs.
          const bounds = { rows: [1, 3], columns: [2, 3], cells, lines };
          const { sets } = runQuery(dataset, store, query);
          const [rows, columns] = [Math.max(1, sets[1].size) + 1, Math.max(1, sets[2].size) + 1];
          const isTooLarge = rows * columns > cells || Math.max(rows, columns) > lines;
          const told = isTooLarge ? [rows - 1, columns - 1] : null;
          expect(outcome(() => runQuery(dataset, store, { ...query, bounds }))).toEqual(told);
          expect(outcome(() => refuseEarly(planQuery(dataset, store, { ...query, bounds })))).toEqual(dense ? null : told);
          if (isTooLarge && !dense) refused++;
        },
      ),
      { numRuns: 300, seed: 6 },
    );
    expect(refused).toBeGreaterThan(50);
  });

  it('is left to counting where an axis looks at more than one table', () => {
    const store = storeOf([]);
    const query: Query = { ...{ fact: 'pairs', filter: null, levels: ['left', 'right'], aggregates: [] }, sets: [[0, 1], []] };
    const bounds = { rows: [0, 1], columns: [1], cells: 10, lines: 10 };
    expect(outcome(() => refuseEarly(planQuery(dataset, store, { ...query, bounds })))).toBeNull();
    expect(outcome(() => runQuery(dataset, store, { ...query, bounds }))).toEqual([MEMBERS, 0]);
  });
});
