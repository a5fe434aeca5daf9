import type { CrosstabResponse, Explanation, KpiResponse, ListResponse, ReportView } from '@bold-compass/core/api';
import { crosstabSchema, kpiStripSchema, listSchema, type Report } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { scratchReport, type ScratchReport } from '../../demo/testing/scratch-report.ts';

/** Figures and words that an independent comparison with PostgreSQL found wrong, held against it for good. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
let id: string;
let scratch: ScratchReport;
beforeAll(async () => {
  demo = await demoApp();
  agent = await demo.as('ines-calloway');
  scratch = await scratchReport(agent, 'Figures');
  ({ id } = scratch);
});
afterAll(() => demo.close());

const rows = async <Row extends object>(sql: string): Promise<Row[]> => (await demo.connection.pool.query<Row>(sql)).rows;
const SOLD = `FROM imported.order_lines AS o JOIN imported.showrooms AS s USING (showroom_id) WHERE status NOT IN ('Cancelled', 'Returned')`;

const show = (exhibit: Report['exhibits'][number]): Promise<void> => scratch.show(exhibit);
const axis = { open: { depth: 9, exceptions: [] }, hideEmpty: true };
async function crosstab(spec: object, scope: object = {}, change: { side?: object; top?: object } = {}): Promise<CrosstabResponse> {
  await show(crosstabSchema.parse({ kind: 'crosstab', id: 'table', title: 'Table', ...spec }));
  const window = { from: 0, count: 400 };
  const body = {
    ...{ draft: true, scope, rows: window, columns: window },
    ...{ side: { ...axis, ...change.side }, top: { ...axis, ...change.top } },
  };
  return (await agent.post(`/api/reports/${id}/exhibits/table/crosstab`).send(body).expect(200)).body as CrosstabResponse;
}
const explain = async (side: (string | null)[], measure: string, scope: object = {}): Promise<Explanation> =>
  (await agent.post(`/api/reports/${id}/exhibits/table/explain`).send({ draft: true, scope, side, top: [], measure }).expect(200))
    .body as Explanation;

describe('the same days a year back', () => {
  /** Net sales against last year under a condition of the strip itself. */
  async function lastYear(filter: object | null, scope: object = {}): Promise<KpiResponse[number]> {
    const indicator = { against: { kind: 'back', amount: 1, unit: 'year' }, by: 'ratio', onCourse: 1, drifting: 0.9, direction: 'higher' };
    const kpis = [{ id: 'net', label: 'Net', measure: 'net_sales', words: '', indicator }];
    await show(kpiStripSchema.parse({ kind: 'kpis', id: 'strip', title: 'Strip', kpis, filter }));
    const { body } = await agent.post(`/api/reports/${id}/exhibits/strip/kpis`).send({ draft: true, scope }).expect(200);
    return (body as KpiResponse)[0];
  }
  const net = async (where: string): Promise<number> =>
    Number((await rows<{ net: string }>(`SELECT sum(net_amount) AS net ${SOLD} AND ${where}`))[0].net);

  it('weekdays stay: Mondays stand against Mondays', async () => {
    const { value, target } = await lastYear(null, { year: ['2026'], month: ['2026-03'], weekday: ['1'] });
    expect(value).toBe(await net(`order_date BETWEEN '2026-03-01' AND '2026-03-31' AND extract(isodow FROM order_date) = 1`));
    expect(target).toBe(await net(`order_date BETWEEN '2025-03-01' AND '2025-03-31' AND extract(isodow FROM order_date) = 1`));
  });

  it('a day alone stands against a day alone, a whole February against a whole one', async () => {
    const one = await lastYear(null, { day: ['2025-02-28'] });
    expect([one.value, one.target]).toEqual([await net(`order_date = '2025-02-28'`), await net(`order_date = '2024-02-28'`)]);
    const whole = await lastYear(null, { month: ['2025-02'] });
    expect(whole.target).toBe(await net(`order_date BETWEEN '2024-02-01' AND '2024-02-29'`));
  });

  it('a condition that mixes days with something else has none, and says so', async () => {
    const filter = {
      op: 'or',
      items: [
        { op: 'in', field: 'year', values: ['2026'] },
        { op: 'in', field: 'channel', values: ['Online'] },
      ],
    };
    const { target, reason } = await lastYear(filter);
    expect(target).toBeNull();
    expect(reason).toContain('no dates to tell');
  });
});

describe('counts', () => {
  it('of nothing are no value, in the table and in its explanation', async () => {
    const answer = await crosstab(
      { side: { fields: ['line'] }, top: { fields: ['channel'] }, cells: [{ measure: 'orders_count' }] },
      { year: ['2023'], city: ['Oslo'] },
    );
    const expected = await rows<{ line: string; channel: string; n: number }>(
      `SELECT line, channel, count(DISTINCT order_number)::int AS n FROM imported.order_lines JOIN imported.models USING (model_id) JOIN imported.showrooms USING (showroom_id)
       WHERE status NOT IN ('Cancelled', 'Returned') AND city = 'Oslo' AND order_date < '2024-01-01' GROUP BY 1, 2`,
    );
    let nothing = 0;
    answer.rows.items.forEach((row, r) =>
      answer.columns.items.forEach((column, c) => {
        if (row.role !== 'member' || column.role !== 'member') return;
        const found = expected.find((one) => one.line === row.path[0] && one.channel === column.path[0]);
        expect(answer.cells[r][c]).toBe(found?.n ?? null);
        if (!found) nothing++;
      }),
    );
    const empty = await crosstab(
      { side: { fields: ['model'] }, top: { fields: [] }, cells: [{ measure: 'orders_count' }] },
      { day: ['2023-01-01'] },
      { side: { hideEmpty: false } },
    );
    expect(nothing).toBeGreaterThan(0);
    expect(empty.cells.filter(([value]) => value === null).length).toBeGreaterThan(100);
    expect(empty.cells.filter(([value]) => value === 0)).toEqual([]);
    const none = empty.rows.items[empty.cells.findIndex(([value]) => value === null)];
    expect(await explain(none.path, 'orders_count', { day: ['2023-01-01'] })).toMatchObject({ value: null, reason: expect.any(String) });
  });
});

describe('members without records', () => {
  it('are those under the exhibit’s own filter, and no others when one is opened', async () => {
    const filter = { op: 'in', field: 'region', values: ['Nordic'] };
    const spec = { side: { fields: ['country', 'line'] }, top: { fields: [] }, cells: [{ measure: 'net_sales' }], filter };
    const [{ countries }] = await rows<{ countries: string[] }>(
      `SELECT array_agg(DISTINCT country ORDER BY country) AS countries FROM imported.showrooms WHERE region = 'Nordic'`,
    );
    for (const depth of [0, 1]) {
      const answer = await crosstab(spec, { day: ['2023-01-01'] }, { side: { hideEmpty: false, open: { depth, exceptions: [] } } });
      const shown = answer.rows.items.filter((row) => row.depth === 1 && row.role === 'member').map(({ path }) => path[0]);
      expect([...new Set(shown)].sort()).toEqual(countries);
    }
  });
});

describe('words', () => {
  const labels = ({ columns }: CrosstabResponse): string[] =>
    columns.items.filter(({ role }) => role === 'member').map((one) => one.labels.at(-1)!);

  it('of a period leave its year out under that very year only', async () => {
    const cells = [{ measure: 'net_sales' }];
    const channel = await crosstab(
      { side: { fields: [] }, top: { fields: ['channel', 'month'] }, cells },
      { month: ['2025-01', '2026-01'] },
    );
    expect(new Set(labels(channel))).toEqual(new Set(['January 2025', 'January 2026']));
    const year = await crosstab({ side: { fields: [] }, top: { fields: ['year', 'month'] }, cells }, { month: ['2025-01', '2026-01'] });
    expect(labels(year)).toEqual(['January', 'January']);
  });

  it('of the top of the reporting line are not “Own” for orders without an adviser', async () => {
    const [level] = ((await agent.get(`/api/reports/${id}?draft=true`)).body as ReportView).dataset.dimensions
      .filter((dimension) => dimension.kind === 'table' && dimension.tree !== undefined)
      .map(({ levels }) => levels[0]);
    const answer = await crosstab({ side: { fields: [level.name] }, top: { fields: [] }, cells: [{ measure: 'net_sales' }] });
    const missing = answer.rows.items.find(({ path }) => path.length === 1 && path[0] === null)!;
    expect(missing.labels).toEqual([`No ${level.label.toLowerCase()}`]);
  });

  it('of a blank say whether a fact is kept coarser or has no such dimension', async () => {
    const answer = await crosstab({ side: { fields: ['line'] }, top: { fields: [] }, cells: [{ measure: 'repairs_count' }] });
    expect(answer.measures[0].reason).toBe('Repairs have no line, so there is no value here.');
  });
});

it('an order by a column that is not here falls back to the labels', async () => {
  const spec = { side: { fields: ['country'] }, top: { fields: ['channel'] }, cells: [{ measure: 'net_sales' }] };
  const order = { by: 'measure', measure: 'net_sales', at: ['Never'], direction: 'desc' };
  const answer = await crosstab(spec, {}, { side: { order } });
  const names = answer.rows.items.filter(({ role }) => role === 'member').map(({ path }) => path[0]!);
  expect(names).toEqual([...names].sort(new Intl.Collator('en-GB').compare));
});

it('what an indicator judges is the number that is shown', async () => {
  const indicator = { against: { kind: 'value', value: 1_000_000 }, by: 'ratio', onCourse: 1, drifting: 0.9, direction: 'higher' };
  const answer = await crosstab({
    side: { fields: ['country'], total: 'always' },
    top: { fields: [] },
    cells: [{ measure: 'net_sales', totals: 'smallest', indicator }],
  });
  const last = answer.rows.items.findIndex(({ role }) => role === 'total');
  const smallest = Math.min(...answer.cells.filter((_, row) => row !== last).map(([value]) => value!));
  expect(answer.cells[last][0]).toBe(smallest);
  expect(answer.states![last][0]).toBe(smallest >= 1_000_000 ? 'on' : smallest >= 900_000 ? 'drifting' : 'off');
});

it('the first of texts and dates in a list’s footer are texts and dates', async () => {
  const columns = [
    { field: 'status', total: 'min' },
    { field: 'order_date', total: 'max' },
  ];
  const known = ((await agent.get(`/api/reports/${id}?draft=true`)).body as ReportView).dataset.facts[0].fields.map(({ name }) => name);
  await show(
    listSchema.parse({
      kind: 'list',
      id: 'list',
      title: 'List',
      fact: 'orders',
      columns: columns.filter(({ field }) => known.includes(field)),
    }),
  );
  const { body } = await agent
    .post(`/api/reports/${id}/exhibits/list/list`)
    .send({ draft: true, order: [], offset: 0, limit: 1 })
    .expect(200);
  const [{ status }] = await rows<{ status: string }>(`SELECT min(status COLLATE "C") AS status ${SOLD}`);
  expect((body as ListResponse).totals[0]).toBe(status);
});

it('data without dates is of the moment it was loaded', async () => {
  const { dataset } = (await agent.get(`/api/reports/${id}?draft=true`)).body as ReportView;
  const bare = {
    ...{ ...dataset, name: 'bare', label: 'Bare', measures: dataset.measures.filter(({ name }) => name === 'orders_count') },
    dimensions: dataset.dimensions.filter(({ name }) => name === 'territory'),
    facts: [{ ...dataset.facts[0], links: dataset.facts[0].links.filter(({ dimension }) => dimension === 'territory'), filter: null }],
  };
  await demo.connection.pool.query(`INSERT INTO app.datasets (name, definition) VALUES ('bare', $1)`, [bare]);
  const made = await agent.post('/api/reports').send({ title: 'Bare', folder: '', dataset: 'bare', layout: 'empty' }).expect(200);
  const view = (await agent.get(`/api/reports/${(made.body as { id: string }).id}?draft=true`).expect(200)).body as ReportView;
  expect(view.dataTo).toBe(new Date().toISOString().slice(0, 10));
});
