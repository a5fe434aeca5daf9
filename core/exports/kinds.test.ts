import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CrosstabResponse, Header } from '../api/index.ts';
import { exportedKind } from './index.ts';

const { joined, extent, request } = exportedKind('crosstab') as unknown as {
  joined(answers: readonly CrosstabResponse[]): CrosstabResponse;
  extent(answer: CrosstabResponse): { lines: number; width: number };
  request(asked: object, state: object, from: number, count: number): { rows: object };
};

const header = (name: string): Header => ({
  ...{ path: [name], labels: [name], role: 'member', depth: 1, open: false, canOpen: false },
});
/** A cross-tab of so many rows and two columns, with texts, states and a mark in some rows only. */
function answerOf(kinds: readonly { text: boolean; state: boolean; mark: boolean }[]): CrosstabResponse {
  const rows = kinds.map((_, row) => header(`Row ${row}`));
  return {
    rows: { total: rows.length, from: 0, items: rows },
    columns: { total: 2, from: 0, items: [header('A'), header('B')] },
    measures: [{ measure: 'net', side: 1, top: 1, available: true, reason: '' }],
    cells: kinds.map((_, row) => [row, row * 2]),
    texts: kinds.map(({ text }, row) => [text ? `text ${row}` : null, null]),
    states: kinds.map(({ state }) => [state ? 'on' : null, null]),
    marks: [{ measure: 0, index: 1, values: kinds.map(({ mark }, row) => [mark ? [0, row] : null, null]) }],
    milliseconds: 1,
  };
}
/** Some of its rows, as they would be answered by themselves: what none of them has is left out. */
function windowOf(whole: CrosstabResponse, from: number, to: number): CrosstabResponse {
  const some = <Value>(rows: (Value | null)[][] | undefined): (Value | null)[][] | undefined => {
    const own = rows?.slice(from, to);
    return own?.some((row) => row.some((value) => value !== null)) ? own : undefined;
  };
  const values = some(whole.marks![0].values);
  return {
    ...whole,
    rows: { ...whole.rows, from, items: whole.rows.items.slice(from, to) },
    ...{ cells: whole.cells.slice(from, to), texts: some(whole.texts), states: some(whole.states) },
    marks: values ? [{ measure: 0, index: 1, values }] : undefined,
  };
}

describe('windows of a cross-tab, joined', () => {
  it('are the whole, whatever some of them lack', () => {
    const row = fc.record({ text: fc.boolean(), state: fc.boolean(), mark: fc.boolean() });
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 30 }), fc.integer({ min: 1, max: 10 }), (kinds, size) => {
        const whole = answerOf(kinds);
        const starts = Array.from({ length: Math.ceil(kinds.length / size) }, (_, at) => at * size);
        const found = joined(starts.map((from) => windowOf(whole, from, from + size)));
        expect(found.rows.items).toEqual(whole.rows.items);
        expect(found.cells).toEqual(whole.cells);
        kinds.forEach((_, at) => {
          expect(found.texts?.[at]?.[0] ?? null).toBe(whole.texts![at][0]);
          expect(found.states?.[at]?.[0] ?? null).toBe(whole.states![at][0]);
          expect(found.marks?.[0].values[at]?.[0] ?? null).toEqual(whole.marks![0].values[at][0]);
        });
      }),
    );
  });

  it('are asked for row by row, with all columns at once', () => {
    expect(extent(answerOf([{ text: false, state: false, mark: false }]))).toEqual({ lines: 1, width: 2 });
    const asked = { scope: { year: ['2026'] }, draft: true };
    const axis = { open: { depth: 0, exceptions: [] }, order: null, hideEmpty: true };
    expect(request(asked, { side: axis, top: axis }, 2_000, 500)).toMatchObject({
      ...asked,
      rows: { from: 2_000, count: 500 },
      columns: { from: 0, count: Number.MAX_SAFE_INTEGER },
    });
  });
});
