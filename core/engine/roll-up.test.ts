import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { AggregateName, Filter } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { runQuery, type AggregateCall, type GroupingSetResult, type Query, type QueryResult } from './index.ts';

const store = workedStore();
const LEVELS = ['region', 'country', 'city', 'year', 'month', 'channel'];
const sets = fc.uniqueArray(fc.subarray(LEVELS.map((_, level) => level)), { minLength: 1, maxLength: 8, selector: (set) => set.join() });
const call: fc.Arbitrary<AggregateCall> = fc
  .tuple(
    fc.constantFrom<AggregateName>('sum', 'avg', 'min', 'max', 'count', 'count_distinct', 'median', 'mode', 'stddev', 'var_pop'),
    fc.constantFrom('quantity', 'unit_price'),
    fc.constantFrom<Filter | null>(null, { op: 'eq', field: 'channel', value: 'Online' }),
  )
  .map(([fn, name, where]) => ({ fn, argument: { kind: 'field', name }, where }));
const filter = fc.constantFrom<Filter | null>(
  null,
  { op: 'in', field: 'year', values: ['2026'] },
  { op: 'gt', field: 'quantity', value: 900 },
);

/** Groups by the words of their members, with everything that was calculated for them. */
function readable({ members }: QueryResult, set: GroupingSetResult): Map<string, number[]> {
  return new Map(
    Array.from({ length: set.size }, (_, group) => [
      set.keys.map((codes, position) => members[set.levels[position]][codes[group] - 1] ?? '∅').join(' › '),
      [set.records[group], ...set.values.map(({ values }) => values[group])],
    ]),
  );
}

/** Deviations add up floats, whose last digit hangs on their order; everything else is exact. */
const isClose = (a: number, b: number): boolean => Object.is(a, b) || Math.abs(a - b) <= 1e-13 * Math.abs(a);

describe('totals that are made of finer totals', () => {
  it('are those of the records, whatever else is asked for with them', () => {
    fc.assert(
      fc.property(sets, fc.array(call, { minLength: 1, maxLength: 4 }), filter, (asked, aggregates, condition) => {
        const query: Query = { fact: 'sales', filter: condition, levels: LEVELS, sets: asked, aggregates };
        const together = runQuery(workedDataset, store, query);
        expect(together.sets.map(({ levels }) => levels)).toEqual(asked);
        asked.forEach((set, index) => {
          const alone = runQuery(workedDataset, store, {
            ...query,
            levels: set.map((level) => LEVELS[level]),
            sets: [set.map((_, at) => at)],
          });
          const [own, other] = [readable(together, together.sets[index]), readable(alone, alone.sets[0])];
          expect([...own.keys()].sort()).toEqual([...other.keys()].sort());
          for (const [key, values] of own) {
            const differing = values.filter((value, at) => !isClose(value, other.get(key)![at]));
            expect({ key, differing }).toEqual({ key, differing: [] });
          }
        });
      }),
      { numRuns: 300, seed: 4 },
    );
  });
});
