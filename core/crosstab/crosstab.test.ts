import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runQuery } from '../engine/index.ts';
import { axisOver, factNamed, type Axis, type CalendarDimension, type Filter } from '../model/index.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { CrosstabTooLargeError } from '../engine/index.ts';
import { Cube, parsePathKey, pathKey, planCrosstab, readPath, splitDates, writtenPath } from './index.ts';

const store = workedStore();
const axis = (fields: string[]): Axis => axisOver(fields, { total: 'always' });
const calendar = workedDataset.dimensions.find((dimension): dimension is CalendarDimension => dimension.kind === 'calendar')!;

describe('totals tie out', () => {
  it('on any levels and under any choice: every total of a sum is the sum of its members', () => {
    const fields = fc.subarray(['region', 'country', 'city', 'year', 'quarter', 'month', 'channel'], { minLength: 1, maxLength: 4 });
    const scopes = fc.option(
      fc.constantFrom<Filter>(
        { op: 'in', field: 'channel', values: ['Online'] },
        { op: 'in', field: 'year', values: ['2026'] },
        { op: 'ne', field: 'city', value: 'Lyon' },
      ),
    );
    fc.assert(
      fc.property(fields, fc.nat({ max: 4 }), scopes, (levels, cut, scope) => {
        const [side, top] = [levels.slice(0, cut), levels.slice(cut)];
        const plan = planCrosstab(workedDataset, { side: axis(side), top: axis(top), cells: [{ measure: 'net' }], filter: null }, scope, {
          side: side.length,
          top: top.length,
        });
        const cube = new Cube(
          plan,
          plan.parts.map((part) => runQuery(workedDataset, store, part.query!)),
          { side: null, top: null },
        );
        const value = (row: number, column: number): number => cube.value('net', row, column) || 0;
        for (const row of cube.side.nodes) {
          for (const column of cube.top.nodes) {
            if (row.children.length > 0)
              expect(value(row.id, column.id)).toBe(row.children.reduce((sum, child) => sum + value(child, column.id), 0));
            if (column.children.length > 0)
              expect(value(row.id, column.id)).toBe(column.children.reduce((sum, child) => sum + value(row.id, child), 0));
          }
        }
      }),
      { numRuns: 200, seed: 8 },
    );
  });

  it('is refused by the runner that counts, before anything is put together', () => {
    const plan = planCrosstab(
      workedDataset,
      { side: axis(['country', 'city']), top: axis(['year', 'month']), cells: [{ measure: 'net' }], filter: null },
      null,
      { side: 2, top: 2 },
    );
    const query = plan.parts[0].query!;
    const refusal = (bounds: Partial<NonNullable<typeof query.bounds>>): unknown => {
      try {
        return runQuery(workedDataset, store, { ...query, bounds: { ...query.bounds!, ...bounds } });
      } catch (error) {
        return error;
      }
    };
    const { side, top } = new Cube(plan, [runQuery(workedDataset, store, query)], { side: null, top: null });
    const [rows, columns] = [side.nodes.length, top.nodes.length];
    // Exactly what the table would be: totals and all levels are lines of it.
    expect(refusal({ cells: rows * columns })).not.toBeInstanceOf(CrosstabTooLargeError);
    expect(refusal({ cells: rows * columns - 1 })).toMatchObject({ name: 'CrosstabTooLargeError', rows: rows - 1, columns: columns - 1 });
    expect(refusal({ lines: Math.max(rows, columns) - 1 })).toBeInstanceOf(CrosstabTooLargeError);
  });

  it('says how large it would be instead of taking all memory', () => {
    const plan = planCrosstab(
      workedDataset,
      { side: axis(['region']), top: axis(['year']), cells: [{ measure: 'net' }], filter: null },
      null,
      { side: 1, top: 1 },
    );
    const many = Array.from({ length: 9_000 }, (_, index) => [`member ${index}`]);
    const results = plan.parts.map((part) => runQuery(workedDataset, store, part.query!));
    expect(() => new Cube(plan, results, { side: many, top: many })).toThrow(CrosstabTooLargeError);
  });
});

/** Members, groups, and texts that look like what is written in their place. */
const partOfPath = fc.oneof(
  fc.string(),
  fc.string().map((text) => `\0${text}`),
  fc.constantFrom('%', '%0', '%00', '%25', '%2500', '%-', '/', '\0', '\0=strings'),
);

describe('paths in documents', () => {
  it('are members as they are, and hold nothing that a database does not take', () => {
    fc.assert(
      fc.property(fc.array(fc.option(partOfPath), { maxLength: 4 }), (path) => {
        expect(readPath(writtenPath(path))).toEqual(path);
        expect(writtenPath(path).every((part) => !part?.startsWith('\0'))).toBe(true);
      }),
      { seed: 10 },
    );
    expect(writtenPath(['Nordic', null, '50 % off', '\0=strings'])).toEqual(['Nordic', null, '50 % off', '%00=strings']);
  });
});

describe('paths in addresses', () => {
  it('come back the same, with slashes, percent signs and missing members', () => {
    fc.assert(
      fc.property(fc.array(fc.option(partOfPath), { minLength: 1, maxLength: 4 }), (path) => {
        expect(parsePathKey(pathKey(path))).toEqual(path);
        expect(pathKey(path)).not.toContain('\0');
      }),
      { seed: 9 },
    );
    expect(pathKey(['a/b', null, '50%'])).toBe('a%2Fb/%0/50%25');
    expect(pathKey(['', '\0=strings'])).toBe('%-/%00=strings');
  });
});

describe('the same days, some periods back', () => {
  it('parts conditions on dates from the rest', () => {
    const both: Filter = {
      op: 'and',
      items: [
        { op: 'in', field: 'year', values: ['2026'] },
        { op: 'in', field: 'region', values: ['Nordic'] },
      ],
    };
    const sales = factNamed(workedDataset, 'sales');
    expect(splitDates(workedDataset, sales, calendar, both)).toEqual({ dates: both.items[0], rest: both.items[1], mixed: false });
    // Mixed into an "or" with something else, dates cannot be told.
    const either: Filter = { op: 'or', items: both.items };
    expect(splitDates(workedDataset, sales, calendar, either)).toEqual({ dates: null, rest: either, mixed: true });
  });
});
