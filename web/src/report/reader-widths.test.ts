import fc from 'fast-check';
import type { LocationQuery } from 'vue-router';
import { describe, expect, it } from 'vitest';
import { readWidths, widthQuery, withReaderWidths } from './reader-widths.ts';

describe('widths that a reader draws', () => {
  it('come back from the address as they were drawn', () => {
    const what = fc.oneof(fc.constant('label'), fc.integer({ min: 0, max: 999 }).map(String));
    const width = fc.option(fc.integer({ min: 30, max: 800 }), { nil: null });
    fc.assert(
      fc.property(fc.array(fc.tuple(what, width), { maxLength: 8 }), (drawn) => {
        const query = drawn.reduce<LocationQuery>(
          (own, [name, size]) => ({ ...own, ...(widthQuery(own, 'table', name, size) as LocationQuery) }),
          {},
        );
        expect(readWidths(query, 'table')).toEqual(Object.fromEntries(drawn));
        expect(readWidths(query, 'another')).toEqual({});
      }),
      { seed: 4 },
    );
  });

  it('are none where the address holds something else', () => {
    const texts = ['label:9999', 'label:1', '0:', 'x:200', '0:2e2', '1:fit', '2:29', null];
    expect(readWidths({ 'table.widths': texts }, 'table')).toEqual({ '1': null });
    expect(readWidths({ 'table.widths': 'label:200' }, 'table')).toEqual({ label: 200 });
  });

  it('take the place of those of the report, or fit again', () => {
    expect(withReaderWidths({ label: 300, '0': 90 }, { '0': null, '1': 120 })).toEqual({ label: 300, '1': 120 });
  });
});
