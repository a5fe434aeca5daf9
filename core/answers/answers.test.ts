import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  crosstabRequestSchema,
  type CrosstabRequest,
  type CrosstabResponse,
  type Explanation,
  type Header,
  type ListResponse,
} from '../api/index.ts';
import {
  crosstabSchema,
  listSchema,
  reportSchema,
  type Crosstab,
  type DataExhibit,
  type Filter,
  type Report,
  type Scope,
} from '../model/index.ts';
import { withFormulas } from '../testing/formulas.ts';
import { workedDataset, workedStore } from '../testing/worked-example.ts';
import { ColumnsData, EXHIBIT_QUESTIONS, promptMembers, textValues, type AnswerContext, type Asked } from './index.ts';

/** Laws of answers, over columns in memory: no server, no interface. */

const lines = listSchema.parse({
  kind: 'list',
  id: 'lines',
  title: 'Lines',
  fact: 'sales',
  columns: [{ field: 'city' }, { field: 'quantity', total: 'sum' }],
});
const target: Report = reportSchema.parse({
  schemaVersion: 1,
  id: 'lines',
  title: 'Lines',
  dataset: workedDataset.name,
  exhibits: [lines],
});
const MOVED = ['closing(quantity)', 'net back 1 year'];
const dataset = withFormulas(workedDataset, MOVED, 'sales');
const context: AnswerContext = {
  ...{ dataset, data: new ColumnsData(dataset, workedStore()), tables: new Map(), locale: 'en-GB' },
  report: (id) => Promise.resolve(id === target.id ? target : null),
};
const ALL: Asked = { scope: {}, where: null };

async function ask<Answer>(path: string, exhibit: DataExhibit, asked: Asked, request: object): Promise<Answer> {
  const question = EXHIBIT_QUESTIONS.find((one) => one.path === path)!;
  return (await question.answer(context, exhibit, asked, question.request.parse(request))) as Answer;
}

const window = (hideEmpty = true): CrosstabRequest => {
  const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty };
  return crosstabRequestSchema.parse({ side: axis, top: axis, rows: { from: 0, count: 400 }, columns: { from: 0, count: 400 } });
};

const MEASURES = ['net', 'goal', 'attainment', 'average_price', 'cities_sold', 'online_share', ...MOVED];
const pick = fc.option(
  fc.record({ count: fc.integer({ min: 1, max: 2 }), measure: fc.constant('net'), from: fc.constantFrom('top', 'bottom') }),
  { nil: undefined },
);
const filter = fc.constantFrom<Filter | null>(
  null,
  { op: 'gt', field: 'quantity', value: 2 },
  { op: 'notIn', field: 'channel', values: ['Online'] },
  {
    op: 'or',
    items: [
      { op: 'in', field: 'region', values: ['Nordic'] },
      { op: 'eq', field: 'channel', value: 'Online' },
    ],
  },
);
/** Cross-tabs of any two axes, with members left out, put together or kept by a measure. */
const crosstabs: fc.Arbitrary<Crosstab> = fc
  .record({
    side: fc.shuffledSubarray(['region', 'country', 'city', 'channel']),
    top: fc.constantFrom<string[][]>(['year', 'quarter'], ['year'], ['quarter'], [], ['year', 'channel'], ['channel']),
    measure: fc.constantFrom(...MEASURES),
    totals: fc.constantFrom(undefined, undefined, 'average' as const, 'sum' as const, 'median' as const, 'none' as const),
    ...{ pick, filter },
    condition: fc.constantFrom([], [{ field: 'country', measure: 'net', op: 'ge', value: 'average' }]),
  })
  .map(({ side: along, top, measure, totals, pick: own, filter: condition, condition: conditions }) => {
    const side = along.filter((field) => !top.includes(field));
    return crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'table', title: 'Table', cells: [{ measure, totals }], filter: condition, conditions },
      side: { fields: side, levels: own && side[0] ? { [side[0]]: { pick: own } } : {} },
      top: { fields: top },
      drills: [{ report: 'lines', label: 'Lines' }],
    });
  });
const asks: fc.Arbitrary<Asked> = fc.record({
  scope: fc.constantFrom<Scope>({}, { year: ['2026'] }, { region: ['Nordic'] }),
  where: filter,
});

/** Every cell that stands for itself, with its value. */
function cellsOf({ rows, columns, cells }: CrosstabResponse): { row: Header; column: Header; value: number | null }[] {
  return rows.items.flatMap((row, r) =>
    columns.items.flatMap((column, c) => (row.bare || row.summary || column.summary ? [] : [{ row, column, value: cells[r][c] }])),
  );
}
const close = (a: number | null, b: number | null): boolean =>
  a === null || b === null ? a === b : Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a));

describe('a cell', () => {
  it('equals its explanation, and leads to the records that stand behind it', { timeout: 60_000 }, async () => {
    let followed = 0;
    await fc.assert(
      fc.asyncProperty(crosstabs, asks, async (exhibit, asked) => {
        const [{ measure }] = exhibit.cells;
        for (const { row, column, value } of cellsOf(await ask<CrosstabResponse>('crosstab', exhibit, asked, window()))) {
          const { side, top } = window();
          const place = { side: row.path, top: column.path, measure, viewState: { side, top } };
          const why = await ask<Explanation>('explain', exhibit, asked, place);
          expect({ place, same: close(why.value, value), value, explained: why.value }).toMatchObject({ same: true });
          const [drill] = why.drills;
          if (drill.reason) continue;
          followed++;
          const there = await ask<ListResponse>('list', lines, drill, { order: [], offset: 0, limit: 1 });
          expect({ place, records: there.records }).toEqual({ place, records: drill.records });
        }
      }),
      { numRuns: 120, seed: 8 },
    );
    expect(followed).toBeGreaterThan(500);
  });

  it('is the sum of the members below it, where its measure adds up and every member is shown', async () => {
    const exhibit = crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'table', title: 'Table', cells: [{ measure: 'net' }] },
      ...{ side: { fields: ['region', 'country', 'city'] }, top: { fields: ['year'] } },
    });
    const cells = cellsOf(await ask<CrosstabResponse>('crosstab', exhibit, ALL, window()));
    for (const { row, column, value } of cells.filter(({ row: own }) => own.depth < 3)) {
      const below = cells.filter(
        (one) =>
          one.column === column &&
          one.row.depth === row.depth + 1 &&
          JSON.stringify(one.row.path.slice(0, -1)) === JSON.stringify(row.path),
      );
      const sum = below.reduce((total, one) => total + (one.value ?? 0), 0);
      expect(close(value ?? 0, sum), `${row.labels.join(' › ')}, ${column.labels.join()}`).toBe(true);
    }
  });
});

describe('a window', () => {
  it('shows what the whole table shows at its place, however it is cut', async () => {
    await fc.assert(
      fc.asyncProperty(crosstabs, fc.nat(12), fc.nat(6), async (exhibit, from, column) => {
        const whole = await ask<CrosstabResponse>('crosstab', exhibit, ALL, window(false));
        const part = await ask<CrosstabResponse>('crosstab', exhibit, ALL, {
          ...window(false),
          ...{ rows: { from, count: 3 }, columns: { from: column, count: 2 } },
        });
        expect(part.rows.total).toBe(whole.rows.total);
        expect(part.rows.items).toEqual(whole.rows.items.slice(from, from + 3));
        expect(part.cells).toEqual(whole.cells.slice(from, from + 3).map((row) => row.slice(column, column + 2)));
      }),
      { numRuns: 80, seed: 3 },
    );
  });
});

describe('a prompt', () => {
  it('offers members with as many records as are then left', async () => {
    const { members, record } = await promptMembers(
      context,
      target,
      { scope: { region: ['Nordic'] }, choices: {}, where: null },
      { field: 'city' },
    );
    expect(record.many).toBe('sales');
    for (const { member, records } of members) {
      const asked = { scope: { region: ['Nordic'], city: [member] }, where: null };
      const { records: listed } = await ask<ListResponse>('list', lines, asked, { order: [], offset: 0, limit: 1 });
      expect({ member, listed }).toEqual({ member, listed: records });
    }
  });
});

describe('texts', () => {
  it('show values of measures, and say why there is none', async () => {
    const values = await textValues(context, ['net', 'goal', 'nothing'], { scope: { city: ['Stockholm'] }, where: null });
    expect(Object.keys(values)).toEqual(['net', 'goal']);
    expect(values.net.value).toBeGreaterThan(0);
    expect(values.goal).toEqual({ value: null, reason: expect.stringContaining('city') as string });
  });
});
