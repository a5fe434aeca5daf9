import type { CrosstabResponse, Explanation, Header, ListResponse, ReportView } from '@bold-compass/core/api';
import { crosstabSchema, listSchema, promptSchema, type Crosstab, type Filter, type Scope } from '@bold-compass/core/model';
import { openedByLink } from '@bold-compass/core/prompts';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';

/** What a link promises is what the list in the other report holds, and what stands behind the cell: for every cell. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
const ids: Record<'table' | 'lines', string> = { table: '', lines: '' };
beforeAll(async () => {
  demo = await demoApp();
  agent = await demo.as('ines-calloway');
  for (const name of ['table', 'lines'] as const) {
    const made = await agent.post('/api/reports').send({ title: name, folder: '', dataset: 'hollin-marsh', layout: 'empty' }).expect(200);
    ids[name] = (made.body as { id: string }).id;
  }
  const list = { kind: 'list', id: 'lines', title: 'Lines', fact: 'orders', columns: [{ field: 'order_number' }] };
  await save('lines', [listSchema.parse(list)]);
});
afterAll(() => demo.close());

async function save(name: keyof typeof ids, exhibits: object[]): Promise<void> {
  const { report, revision } = (await agent.get(`/api/reports/${ids[name]}?draft=true`).expect(200)).body as ReportView;
  await agent
    .put(`/api/reports/${ids[name]}`)
    .send({ report: { ...report, exhibits }, revision })
    .expect(200);
}

const WINDOW = { from: 0, count: 400 };
const OPEN = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
const CASES: Record<string, object> = {
  'members that are missing, and the exhibit’s own filter': {
    side: { fields: ['channel', 'family'] },
    top: { fields: ['year'] },
    filter: { op: 'gt', field: 'quantity', value: 1 },
  },
  'a tree, whose heads have orders of their own': { side: { fields: ['lead_1', 'lead_2', 'lead_3'] }, top: { fields: ['year'] } },
  'all others of the top members, at two levels': {
    side: {
      fields: ['region', 'city'],
      levels: { city: { pick: { count: 2, measure: 'net_sales' } }, region: { pick: { count: 3, measure: 'net_sales' } } },
    },
    top: { fields: ['channel'], levels: { channel: { pick: { count: 1, measure: 'net_sales' } } } },
  },
  'members that a condition on a measure keeps': {
    side: { fields: ['region', 'country'] },
    top: { fields: ['quarter'] },
    conditions: [{ field: 'country', measure: 'net_sales', op: 'gt', value: 'average' }],
  },
  'conditions of several kinds at once': {
    side: { fields: ['segment', 'adviser'] },
    top: { fields: ['channel'] },
    filter: {
      op: 'or',
      items: [
        { op: 'empty', field: 'adviser' },
        { op: 'in', field: 'region', values: ['Nordic', 'Atlantic'] },
      ],
    },
    conditions: [{ field: 'adviser', measure: 'units', op: 'ge', value: 100 }],
  },
};
const SCOPES: Scope[] = [{}, { year: ['2025', '2026'] }, { region: ['Nordic'], channel: ['Showroom', 'Online'] }];

function exhibitOf(spec: object): Crosstab {
  return crosstabSchema.parse({
    ...{ kind: 'crosstab', id: 'table', title: 'Table', cells: [{ measure: 'net_sales' }], ...spec },
    drills: [{ report: ids.lines, label: 'Lines' }],
  });
}

async function listed(scope: Scope, where: Filter | null): Promise<number> {
  const body = { scope, where, order: [], offset: 0, limit: 1, draft: true };
  const { body: answer } = await agent.post(`/api/reports/${ids.lines}/exhibits/lines/list`).send(body).expect(200);
  return (answer as ListResponse).records;
}

const places = (headers: Header[]): Header[] => headers.filter(({ bare, summary }) => !bare && !summary);

describe('a link from a cell leads to the records behind it', () => {
  it.each(Object.entries(CASES))('under %s', { timeout: 120_000 }, async (_, spec) => {
    await save('table', [exhibitOf(spec)]);
    for (const scope of SCOPES) {
      const body = { draft: true, scope, side: OPEN, top: OPEN, rows: WINDOW, columns: WINDOW };
      const { body: shown } = await agent.post(`/api/reports/${ids.table}/exhibits/table/crosstab`).send(body).expect(200);
      const { rows, columns } = shown as CrosstabResponse;
      const cells = places(rows.items).flatMap((row) => places(columns.items).map((column) => ({ side: row.path, top: column.path })));
      expect(cells.length).toBeGreaterThan(3);
      // The corners, where totals meet, and a handful between.
      const chosen = new Set([cells.at(-1)!, ...fc.sample(fc.constantFrom(...cells), { numRuns: 12, seed: cells.length })]);
      for (const cell of chosen) {
        const asked = { ...cell, measure: 'net_sales', scope, draft: true };
        const { body: why } = await agent.post(`/api/reports/${ids.table}/exhibits/table/explain`).send(asked).expect(200);
        const { records, drills } = why as Explanation;
        const [drill] = drills;
        expect({ cell, reason: drill.reason, promised: drill.records }).toEqual({ cell, reason: '', promised: records[0].count });
        expect({ cell, listed: await listed(drill.scope, drill.where) }).toEqual({ cell, listed: drill.records });
      }
    }
  });

  it('is refused, with the reason, where the other report cannot know the condition', async () => {
    await save('table', [
      exhibitOf({
        side: { fields: ['region'] },
        top: { fields: [] },
        cells: [{ measure: 'repairs_count' }],
        filter: { op: 'eq', field: 'promise_kept', value: true },
      }),
    ]);
    const asked = { side: ['Nordic'], top: [], measure: 'repairs_count', scope: {}, draft: true };
    const { body } = await agent.post(`/api/reports/${ids.table}/exhibits/table/explain`).send(asked).expect(200);
    const [drill] = (body as Explanation).drills;
    expect(drill).toMatchObject({ records: 0, reason: expect.stringContaining('promise kept') as string });
  });

  it('does not take conditions on what a dataset has not', async () => {
    const where = { op: 'eq', field: 'password', value: 'x' };
    const body = { scope: {}, where, order: [], offset: 0, limit: 1, draft: true };
    const { body: refused } = await agent.post(`/api/reports/${ids.lines}/exhibits/lines/list`).send(body).expect(422);
    expect(refused).toMatchObject({ code: 'scope-unknown' });
  });

  it('does not take conditions that stand inside each other without end', async () => {
    // Written by hand: what writes JSON would itself fall over the depth.
    const nested = (depth: number) => '{"op":"not","item":'.repeat(depth) + '{"op":"empty","field":"channel"}' + '}'.repeat(depth);
    const send = (depth: number) =>
      agent
        .post(`/api/reports/${ids.lines}/exhibits/lines/list`)
        .type('json')
        .send(`{"scope":{},"where":${nested(depth)},"order":[],"offset":0,"limit":1,"draft":true}`);
    const { body } = await send(20_000).expect(400);
    expect(body).toMatchObject({ code: 'bad-request', detail: expect.stringContaining('nested too deep') as string });
    // As deep as anyone writes is fine.
    await send(40).expect(200);
  });
});

describe('a link to a report with first choices', () => {
  it('promises what the list on its page shows when it opens', async () => {
    const target = ((await agent.get(`/api/reports/${ids.lines}?draft=true`).expect(200)).body as ReportView).report;
    const list = listSchema.parse({ kind: 'list', id: 'lines', title: 'Lines', fact: 'orders', columns: [{ field: 'order_number' }] });
    const prompts = [
      { id: 'period', kind: 'period', calendar: 'calendar', initial: { unit: 'month', from: '2024-03', to: '2024-04' } },
      { id: 'text', kind: 'text', field: 'city', initial: 'Oslo' },
      { id: 'channel', kind: 'members', fields: ['channel'], initial: { channel: ['Rental'] } },
      { id: 'line', kind: 'members', fields: ['line'], reach: { pages: ['second'], exhibits: [] } },
    ].map((prompt) => promptSchema.parse(prompt));
    const pages = [
      { id: 'first', title: 'First' },
      { id: 'second', title: 'Second' },
    ];
    const linked = { ...target, id: undefined, title: 'With first choices', prompts, pages, scopeLine: [] };
    const imported = await agent
      .post('/api/reports/import')
      .send({
        report: {
          ...linked,
          id: ids.lines,
          exhibits: [
            { ...list, page: 'first' },
            { ...list, id: 'other', page: 'second', filter: { op: 'in', field: 'region', values: ['Nordic'] } },
          ],
        },
      })
      .expect(200);
    const { id } = imported.body as { id: string };
    for (const page of [undefined, 'second']) {
      const exhibit = crosstabSchema.parse({
        ...{
          kind: 'crosstab',
          id: 'table',
          title: 'Table',
          cells: [{ measure: 'net_sales' }],
          side: { fields: ['line'] },
          top: { fields: ['year'] },
        },
        drills: [{ report: id, label: 'Lines', ...(page ? { page } : {}) }],
      });
      await save('table', [exhibit]);
      const cell = { side: ['Brass'], top: ['2025'], measure: 'net_sales', draft: true, scope: { channel: ['Online'] } };
      const why = (await agent.post(`/api/reports/${ids.table}/exhibits/table/explain`).send(cell).expect(200)).body as Explanation;
      const [drill] = why.drills;
      // As the page asks when the link was followed: what it carries, and first choices that give way.
      const choices = openedByLink({ prompts });
      const body = { scope: drill.scope, where: drill.where, choices, order: [], offset: 0, limit: 1, draft: true };
      const { body: shown } = await agent
        .post(`/api/reports/${id}/exhibits/${page ? 'other' : 'lines'}/list`)
        .send(body)
        .expect(200);
      expect(drill.records).toBe((shown as ListResponse).records);
      expect(drill.records).toBeGreaterThan(0);
      const sql = `SELECT count(*)::int AS n FROM imported.order_lines JOIN imported.models USING (model_id) JOIN imported.showrooms USING (showroom_id)
        WHERE status NOT IN ('Cancelled', 'Returned') AND channel = 'Online' AND order_date BETWEEN '2025-01-01' AND '2025-12-31'
        ${page ? `AND line = 'Brass' AND region = 'Nordic'` : ''}`;
      // The prompt for lines is about the second page alone.
      expect(drill.records).toBe((await demo.connection.pool.query<{ n: number }>(sql)).rows[0].n);
    }
  });
});
