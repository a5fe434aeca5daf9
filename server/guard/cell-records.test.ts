import type { CellRecords, CrosstabResponse, Explanation, Header, ReportView } from '@bold-compass/core/api';
import { crosstabSchema } from '@bold-compass/core/model';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { scratchReport, type ScratchReport } from '../../demo/testing/scratch-report.ts';
import { foreignNames } from '../../demo/testing/foreign.ts';

/** The records behind a cell are as many as its explanation counts, and add up to it, whatever the layout. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
let id: string;
let scratch: ScratchReport;
beforeAll(async () => {
  demo = await demoApp();
  agent = await demo.as('ines-calloway');
  scratch = await scratchReport(agent, 'Records');
  ({ id } = scratch);
});
afterAll(() => demo.close());

const show = (part: object): Promise<void> =>
  scratch.show(crosstabSchema.parse({ kind: 'crosstab', id: 'table', title: 'Table', cells: [{ measure: 'net_sales' }], ...part }));
const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
const window = { from: 0, count: 400 };
const ask = async <Answer>(path: string, part: object, who = agent): Promise<Answer> =>
  (
    await who
      .post(`/api/reports/${id}/exhibits/table/${path}`)
      .send({ draft: who === agent, ...part })
      .expect(200)
  ).body as Answer;
const table = (scope: object): Promise<CrosstabResponse> =>
  ask('crosstab', { scope, side: axis, top: axis, rows: window, columns: window });

const side = fc.subarray(['region', 'country', 'channel', 'line', 'family', 'segment', 'adviser'], { minLength: 1, maxLength: 2 });
const top = fc.subarray(['year', 'quarter', 'month'], { maxLength: 2 });
const layout = fc.record({
  side,
  top,
  pick: fc.option(fc.record({ count: fc.integer({ min: 1, max: 3 }), measure: fc.constant('net_sales') }), { nil: undefined }),
  filter: fc.constantFrom(null, { op: 'gt', field: 'quantity', value: 1 }, { op: 'empty', field: 'channel' }),
  scope: fc.constantFrom({}, { region: ['Nordic'] }, { year: ['2025'], channel: ['Online', 'Rental'] }),
  chosen: fc.array(fc.tuple(fc.nat(), fc.nat()), { minLength: 13, maxLength: 13 }),
});

describe('the records behind a cell', () => {
  it('add up to it, for 500 cells of random layouts', { timeout: 240_000 }, async () => {
    let cells = 0;
    await fc.assert(
      fc.asyncProperty(layout, async ({ side: fields, top: across, pick, filter, scope, chosen }) => {
        const levels = pick ? { [fields[0]]: { pick } } : {};
        await show({ side: { fields, levels }, top: { fields: across }, filter });
        const { rows, columns, cells: values } = await table(scope);
        const [own, beside] = [rows.items, columns.items].map((items) =>
          items.flatMap((header, index) => (header.bare || header.summary ? [] : [{ header, index }])),
        );
        if (own.length === 0) return;
        for (const [row, column] of chosen) {
          const [at, under] = [own[row % own.length], beside[column % beside.length]];
          const place = { side: at.header.path, top: under.header.path, measure: 'net_sales', scope };
          const { page, measure, list } = await ask<CellRecords>('records', { ...place, order: [], offset: 0, limit: 1 });
          const value = values[at.index][under.index];
          const total = page.totals[list.columns.findIndex(({ field }) => field === 'net_amount')];
          if (value === null) expect(page.records).toBe(0);
          else expect(Number(total)).toBeCloseTo(value, 2);
          expect(measure.value).toBe(value);
          cells++;
        }
      }),
      { numRuns: 40, seed: 12 },
    );
    expect(cells).toBeGreaterThan(450);
  });

  it('are as many as its explanation counts, come in any order, and leaf through without a gap', async () => {
    await show({ side: { fields: ['country'] }, top: { fields: [] }, drills: [] });
    const place = { side: ['Ireland'], top: [], measure: 'net_sales', scope: { year: ['2026'], month: ['2026-10'] } };
    const explained = await ask<Explanation>('explain', place);
    const pageOf = (part: object): Promise<CellRecords> => ask('records', { ...place, order: [], offset: 0, limit: 500, ...part });
    const whole = await pageOf({});
    expect(whole.page.records).toBe(explained.records[0].count);
    const position = whole.list.columns.findIndex(({ field }) => field === 'net_amount');
    const amounts = ({ page }: CellRecords): number[] => page.rows.map((row) => (row.kind === 'record' ? Number(row.values[position]) : 0));
    expect(amounts(whole).reduce((sum, one) => sum + one, 0)).toBeCloseTo(explained.value!, 2);
    const ordered = amounts(await pageOf({ order: [{ field: 'net_amount', direction: 'desc' }] }));
    expect(ordered).toEqual([...amounts(whole)].sort((a, b) => b - a));
    const parts = await Promise.all(
      [0, 7].map((offset) => pageOf({ offset, limit: 7, order: [{ field: 'net_amount', direction: 'desc' }] })),
    );
    expect(parts.flatMap(amounts)).toEqual(ordered.slice(0, 14));
  });

  it('are of each fact that a measure reads', async () => {
    await show({ side: { fields: ['country'] }, top: { fields: [] }, cells: [{ measure: 'attainment' }] });
    const place = { side: ['Ireland'], top: [], measure: 'attainment', order: [], offset: 0, limit: 5 };
    const first = await ask<CellRecords>('records', place);
    expect(first.parts.map(({ key }) => key)).toEqual(['orders', 'targets']);
    expect((await ask<CellRecords>('records', { ...place, part: 'targets' })).list.fact).toBe('targets');
    await agent
      .post(`/api/reports/${id}/exhibits/table/records`)
      .send({ ...place, draft: true, part: 'repairs' })
      .expect(422);
  });

  it.each(['net_sales_last_year', 'net_sales_to_date', 'net_sales_to_date_last_year'])(
    'are on the dates that a formula goes to, and add up to it: %s',
    { timeout: 120_000 },
    async (measure) => {
      let cells = 0;
      await fc.assert(
        fc.asyncProperty(layout, async ({ side: fields, top: across, filter, scope, chosen }) => {
          await show({ side: { fields }, top: { fields: across }, filter, cells: [{ measure }] });
          const { rows, columns, cells: values } = await table(scope);
          const own = rows.items.flatMap((header, index) => (header.bare || header.summary ? [] : [{ header, index }]));
          if (own.length === 0) return;
          for (const [row, column] of chosen.slice(0, 4)) {
            const { header, index } = own[row % own.length];
            const at = column % columns.items.length;
            const value = values[index][at];
            if (value === null) continue;
            const place = { side: header.path, top: columns.items[at].path, measure, scope };
            const { page, measure: told, list, parts } = await ask<CellRecords>('records', { ...place, order: [], offset: 0, limit: 1 });
            expect(parts).toHaveLength(1);
            expect(Number(page.totals[list.columns.findIndex(({ field }) => field === 'net_amount')])).toBeCloseTo(value, 2);
            expect(told.value).toBe(value);
            const { records } = await ask<Explanation>('explain', place);
            expect(page.records).toBe(records[0].count);
            cells++;
          }
        }),
        { numRuns: 12, seed: 7 },
      );
      expect(cells).toBeGreaterThan(20);
    },
  );

  it('of a change are on both dates, to be chosen', async () => {
    await show({ side: { fields: ['country'] }, top: { fields: [] }, cells: [{ measure: 'change_on_last_year' }] });
    const place = {
      side: ['Ireland'],
      top: [],
      measure: 'change_on_last_year',
      scope: { month: ['2026-02'] },
      order: [],
      offset: 0,
      limit: 500,
    };
    const { parts, page } = await ask<CellRecords>('records', place);
    expect(parts.map(({ dates }) => dates)).toEqual(['', '1 Feb 2025 to 28 Feb 2025']);
    const before = await ask<CellRecords>('records', { ...place, part: parts[1].key });
    const { rows } = await demo.connection.pool.query<{ month: string; count: number }>(
      `SELECT to_char(order_date, 'YYYY-MM') AS month, count(*)::int FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
       WHERE country = 'Ireland' AND status NOT IN ('Cancelled', 'Returned') AND to_char(order_date, 'YYYY-MM') IN ('2026-02', '2025-02')
       GROUP BY 1 ORDER BY 1`,
    );
    expect([before.page.records, page.records]).toEqual(rows.map(({ count }) => count));
  });

  it('hold no record outside of who asks', async () => {
    await show({ side: { fields: ['country'] }, top: { fields: [] } });
    const { revision } = (await agent.get(`/api/reports/${id}?draft=true`).expect(200)).body as ReportView;
    await agent.post(`/api/reports/${id}/publish`).send({ revision }).expect(200);
    const manager = await demo.as('sanna-wikmark');
    const place = { top: [], measure: 'net_sales', order: [], offset: 0, limit: 500 };
    const { page } = await ask<CellRecords>('records', { ...place, side: [] }, manager);
    (await foreignNames(demo))(page);
    const headers: Header[] = (await ask<CrosstabResponse>('crosstab', { side: axis, top: axis, rows: window, columns: window }, manager))
      .rows.items;
    expect(headers.map(({ path }) => path[0]).filter(Boolean)).toEqual(['Denmark', 'Finland', 'Norway', 'Sweden']);
    await manager
      .post(`/api/reports/${id}/exhibits/table/records`)
      .send({ ...place, side: ['France'] })
      .expect(422);
  });
});
