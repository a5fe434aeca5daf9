import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pagesOfRows, partsOfColumns, type PagedRow } from './index.ts';

const row = (height: number, startsGroup = false, keepsWithNext = false): PagedRow => ({ height, startsGroup, keepsWithNext });
const rows = (count: number, groups: readonly number[] = []): PagedRow[] =>
  Array.from({ length: count }, (_, at) => row(10, groups.includes(at)));

describe('rows on pages', () => {
  it('fill a page before the next one begins', () => {
    expect(pagesOfRows(rows(7), 30, 30)).toEqual([
      [0, 3],
      [3, 6],
      [6, 7],
    ]);
    expect(pagesOfRows([], 30, 30)).toEqual([[0, 0]]);
  });

  it('stay in their group where it fits on a page', () => {
    expect(pagesOfRows(rows(6, [0, 2]), 40, 40)).toEqual([
      [0, 2],
      [2, 6],
    ]);
    // Five rows fit on no page: the group is divided where the page ends.
    expect(pagesOfRows(rows(7, [0, 2]), 40, 40)).toEqual([
      [0, 4],
      [4, 7],
    ]);
  });

  it('begin on the next page where nothing fits on what is left of the first', () => {
    expect(pagesOfRows(rows(2), 9, 30)).toEqual([
      [0, 0],
      [0, 2],
    ]);
  });

  it('leave no heading alone at the foot of a page', () => {
    const headed = [row(10), row(10), row(10, false, true), row(10)];
    expect(pagesOfRows(headed, 30, 30)).toEqual([
      [0, 2],
      [2, 4],
    ]);
    // What would keep with the next for ever is divided all the same.
    expect(pagesOfRows([row(10, false, true), row(10, false, true), row(10)], 20, 20)).toEqual([
      [0, 2],
      [2, 3],
    ]);
  });

  it('that are higher than a page have one of their own', () => {
    expect(pagesOfRows([row(10), row(50), row(10)], 30, 30)).toEqual([
      [0, 1],
      [1, 2],
      [2, 3],
    ]);
  });

  it('are all there once and in order, and no page is fuller than it may be unless by one row', () => {
    const anyRow = fc.record({ height: fc.integer({ min: 1, max: 40 }), startsGroup: fc.boolean(), keepsWithNext: fc.boolean() });
    fc.assert(
      fc.property(
        fc.array(anyRow, { maxLength: 60 }),
        fc.integer({ min: 0, max: 100 }),
        fc.integer({ min: 20, max: 100 }),
        (all, first, next) => {
          const pages = pagesOfRows(all, Math.min(first, next), next);
          expect(pages.flatMap(([from, to]) => all.slice(from, to))).toEqual(all);
          pages.forEach(([from, to], page) => {
            expect(from).toBe(page === 0 ? 0 : pages[page - 1][1]);
            const height = all.slice(from, to).reduce((sum, one) => sum + one.height, 0);
            if (to - from > 1) expect(height).toBeLessThanOrEqual(page === 0 ? Math.min(first, next) : next);
            if (page > 0) expect(to).toBeGreaterThan(from);
          });
        },
      ),
    );
  });
});

describe('columns beside each other', () => {
  it('are as many as there is room for, ending where a group ends if one does in the second half', () => {
    const none = Array.from({ length: 6 }, () => false);
    expect(partsOfColumns([10, 10, 10, 10, 10, 10], none, 40)).toEqual([
      [0, 4],
      [4, 6],
    ]);
    expect(partsOfColumns([10, 10, 10, 10, 10, 10], [true, false, false, true, false, false], 40)).toEqual([
      [0, 3],
      [3, 6],
    ]);
    // A group that ends in the first half would leave the page half empty.
    expect(partsOfColumns([10, 10, 10, 10, 10, 10], [true, true, false, false, false, true], 40)).toEqual([
      [0, 4],
      [4, 6],
    ]);
    expect(partsOfColumns([], [], 40)).toEqual([[0, 0]]);
    expect(partsOfColumns([90, 10], [false, false], 40)).toEqual([
      [0, 1],
      [1, 2],
    ]);
  });

  it('are all there once and in order, within the room unless one alone is wider', () => {
    const column = fc.record({ width: fc.integer({ min: 1, max: 60 }), starts: fc.boolean() });
    fc.assert(
      fc.property(fc.array(column, { minLength: 1, maxLength: 50 }), fc.integer({ min: 1, max: 120 }), (columns, room) => {
        const widths = columns.map(({ width }) => width);
        const parts = partsOfColumns(
          widths,
          columns.map(({ starts }) => starts),
          room,
        );
        expect(parts[0][0]).toBe(0);
        expect(parts.at(-1)![1]).toBe(columns.length);
        parts.forEach(([from, to], at) => {
          expect(to).toBeGreaterThan(from);
          if (at > 0) expect(from).toBe(parts[at - 1][1]);
          const width = widths.slice(from, to).reduce((sum, own) => sum + own, 0);
          if (to - from > 1) expect(width).toBeLessThanOrEqual(room);
        });
      }),
    );
  });
});
