import type { CrosstabResponse, Explanation, KpiResponse, ListResponse } from '@bold-compass/core/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';

/** The API's figures on the demo company against what PostgreSQL says for the same question. */

let demo: DemoApp;
beforeAll(async () => {
  demo = await demoApp();
});
afterAll(() => demo.close());

const SOLD = `FROM imported.order_lines o JOIN imported.showrooms s USING (showroom_id) WHERE o.status NOT IN ('Cancelled', 'Returned')`;
const rows = async <Row>(sql: string): Promise<Row[]> => (await demo.connection.pool.query(sql)).rows as Row[];
const cents = (value: number | null): number | null => (value === null ? null : Math.round(value * 100));

const axis = (depth: number, exceptions: string[] = [], order: object = { by: 'label', direction: 'asc' }): object => ({
  open: { depth, exceptions },
  order,
  hideEmpty: true,
});
const crosstab = (
  side: object,
  top: object,
  scope: object = {},
  window = { rows: { from: 0, count: 400 }, columns: { from: 0, count: 400 } },
): object => ({ scope, side, top, ...window });

async function askCrosstab(body: object, person = 'henrike-hollin'): Promise<CrosstabResponse> {
  const agent = await demo.as(person);
  return (await agent.post('/api/reports/sales-against-target/exhibits/territory/crosstab').send(body).expect(200))
    .body as CrosstabResponse;
}

describe('the cross-tab', () => {
  it("equals PostgreSQL's GROUPING SETS to the cent, at every total of showroom by month", async () => {
    const answer = await askCrosstab(crosstab(axis(3), axis(2)));
    const expected = await rows<Record<string, string | null>>(`
      SELECT region, country, city, s.showroom_id::text AS showroom, to_char(order_date, 'YYYY') AS year, to_char(order_date, 'YYYY"-Q"Q') AS quarter, to_char(order_date, 'YYYY-MM') AS month,
             sum(quantity * unit_price - discount) AS net ${SOLD}
      GROUP BY ROLLUP (region, country, city, s.showroom_id), ROLLUP (to_char(order_date, 'YYYY'), to_char(order_date, 'YYYY"-Q"Q'), to_char(order_date, 'YYYY-MM'))`);
    const key = (parts: (string | null)[]): string => parts.filter((part) => part !== null).join('/');
    const net = new Map(
      expected.map((row) => [
        `${key([row.region, row.country, row.city, row.showroom])}|${key([row.year, row.quarter, row.month])}`,
        Math.round(Number(row.net) * 100),
      ]),
    );
    const ours = new Map<string, number | null>();
    answer.rows.items.forEach((row, r) =>
      answer.columns.items.forEach((column, c) => {
        const value = cents(answer.cells[r][c * 3]);
        if (value !== null) ours.set(`${key(row.path)}|${key(column.path)}`, value);
      }),
    );
    expect(ours.size).toBe(net.size);
    expect(ours.size).toBeGreaterThan(8_000);
    expect([...net].filter(([cell, value]) => ours.get(cell) !== value)).toEqual([]);
  });

  it('holds targets down to their grain, and says why not below', async () => {
    const answer = await askCrosstab(crosstab(axis(2), axis(2), { year: ['2026'] }));
    const expected = await rows<{ country: string; month: string; target: string }>(
      `SELECT country, to_char(month, 'YYYY-MM') AS month, sum(revenue) AS target FROM imported.targets WHERE month >= '2026-01-01' GROUP BY 1, 2`,
    );
    expect(expected).toHaveLength(190);
    for (const { country, month, target } of expected) {
      const r = answer.rows.items.findIndex((row) => row.path.length === 2 && row.path[1] === country);
      const c = answer.columns.items.findIndex((column) => column.path.at(-1) === month);
      expect(cents(answer.cells[r][c * 3 + 1]), `${country} ${month}`).toBe(Math.round(Number(target) * 100));
    }
    answer.rows.items.forEach(
      (row, r) =>
        row.path.length > 2 &&
        answer.columns.items.forEach((_, c) => expect(answer.cells[r].slice(c * 3 + 1, c * 3 + 3)).toEqual([null, null])),
    );
    expect(answer.measures[1]).toMatchObject({
      side: 2,
      available: true,
      reason: 'Targets are set per country, line and month, so there is no value here.',
    });
  });

  it('has no target under a choice of channel, and says why', async () => {
    const answer = await askCrosstab(crosstab(axis(0), axis(0), { channel: ['Online'] }));
    expect(answer.measures[1].available).toBe(false);
    expect(answer.measures[1].reason).toContain('under a choice of channel');
    expect(answer.cells.every((row) => row.every((value, index) => index % 3 === 0 || value === null))).toBe(true);
  });

  it('orders by a measure in a column, inside the parents', async () => {
    const order = { by: 'measure', measure: 'net_sales', at: ['2026', '2026-Q2'], direction: 'desc' };
    const answer = await askCrosstab(crosstab(axis(1, [], order), axis(1), { year: ['2026'] }));
    const column = answer.columns.items.findIndex((header) => header.path.at(-1) === '2026-Q2');
    const children = answer.rows.items
      .map((row, r) => ({ row, value: answer.cells[r][column * 3]! }))
      .filter(({ row }) => row.path[0] === 'Nordic' && row.path.length === 2);
    expect(children).toHaveLength(4);
    expect(children.map(({ value }) => value)).toEqual(children.map(({ value }) => value).sort((a, b) => b - a));
  });

  it('gives the same cells in windows as in one piece', async () => {
    const whole = await askCrosstab(crosstab(axis(2), axis(1)));
    const part = await askCrosstab(crosstab(axis(2), axis(1), {}, { rows: { from: 20, count: 15 }, columns: { from: 3, count: 5 } }));
    expect(part.rows.items).toEqual(whole.rows.items.slice(20, 35));
    expect(part.columns.items).toEqual(whole.columns.items.slice(3, 8));
    expect(part.cells).toEqual(whole.cells.slice(20, 35).map((row) => row.slice(9, 24)));
  });

  it('shows members without records by choice only', async () => {
    const scope = { year: ['2023'], country: ['Poland'] };
    const hidden = await askCrosstab(crosstab(axis(3), axis(0), scope));
    const shown = await askCrosstab(crosstab({ ...axis(3), hideEmpty: false }, axis(0), scope));
    const showrooms = (answer: CrosstabResponse): string[] =>
      answer.rows.items.filter((row) => row.depth === 4).map((row) => row.labels.at(-1)!);
    const [opened] = await rows<{ showroom: string }>(`SELECT showroom FROM imported.showrooms WHERE opened > '2024-01-01'`);
    expect(showrooms(hidden)).not.toContain(opened.showroom);
    expect(showrooms(shown).filter((name) => !showrooms(hidden).includes(name))).toEqual([opened.showroom]);
  });
});

describe('the KPI strip', () => {
  it('equals PostgreSQL, thresholds and direction included', async () => {
    const agent = await demo.as('henrike-hollin');
    const answer = (
      await agent
        .post('/api/reports/sales-against-target/exhibits/key-figures/kpis')
        .send({ scope: { year: ['2026'] } })
        .expect(200)
    ).body as KpiResponse;
    const [sold] = await rows<{ net: string; cost: string; units: string; before: string }>(`
      SELECT sum(quantity * unit_price - discount) FILTER (WHERE order_date >= '2026-01-01') AS net, sum(o.cost) FILTER (WHERE order_date >= '2026-01-01') AS cost,
             sum(quantity) FILTER (WHERE order_date >= '2026-01-01') AS units, sum(quantity) FILTER (WHERE order_date BETWEEN '2025-01-01' AND '2025-10-31') AS before ${SOLD}`);
    const [{ target }] = await rows<{ target: string }>(`SELECT sum(revenue) AS target FROM imported.targets WHERE month >= '2026-01-01'`);
    const [{ kept, returned }] = await rows<{ kept: string; returned: string }>(
      `SELECT count(*) FILTER (WHERE returned <= promised) AS kept, count(returned) AS returned FROM imported.repairs WHERE received >= '2026-01-01'`,
    );
    const by = new Map(answer.map((kpi) => [kpi.id, kpi]));
    expect(by.get('net-sales')).toMatchObject({ value: Number(sold.net), target: Number(target), state: 'drifting' });
    expect(by.get('gross-margin')!.value).toBeCloseTo(1 - Number(sold.cost) / Number(sold.net), 12);
    expect(by.get('units')).toMatchObject({ value: Number(sold.units), target: Number(sold.before) });
    expect(by.get('repairs')!.value).toBeCloseTo(Number(kept) / Number(returned), 12);
  });

  it('has no reading where a target is missing', async () => {
    const agent = await demo.as('henrike-hollin');
    const answer = (
      await agent
        .post('/api/reports/sales-against-target/exhibits/key-figures/kpis')
        .send({ scope: { channel: ['Online'] } })
        .expect(200)
    ).body as KpiResponse;
    expect(answer[0]).toMatchObject({ target: null, state: 'none' });
    expect(answer[0].reason).toContain('channel');
  });
});

describe('why this number, and what is behind it', () => {
  const cell = { side: ['Nordic', 'Sweden'], top: ['2026', '2026-Q2'], measure: 'net_sales', scope: { year: ['2026'] } };

  it('counts the records, adds up its parts, and leads to exactly these order lines', async () => {
    const agent = await demo.as('henrike-hollin');
    const why = (await agent.post('/api/reports/sales-against-target/exhibits/territory/explain').send(cell).expect(200))
      .body as Explanation;
    const [expected] = await rows<{ n: string; net: string }>(
      `SELECT count(*) AS n, sum(quantity * unit_price - discount) AS net ${SOLD} AND country = 'Sweden' AND order_date BETWEEN '2026-04-01' AND '2026-06-30'`,
    );
    expect(why.value).toBe(Number(expected.net));
    expect(why.formula).toBe('sum(quantity * unit_price - discount)');
    expect(why.records).toEqual([{ one: 'order line', many: 'order lines', count: Number(expected.n) }]);
    expect(why.conditions).toContain('Country is Sweden');
    expect(why.conditions).toContain('Quarter is Q2 2026');
    expect(why.madeOf).toMatchObject({ label: '4 cities', additive: true });
    expect(cents(why.madeOf!.items.reduce((sum, item) => sum + item.value!, 0))).toBe(cents(why.value));

    const [drill] = why.drills;
    expect(drill).toMatchObject({ report: 'order-lines', records: Number(expected.n) });
    const list = (
      await agent
        .post('/api/reports/order-lines/exhibits/lines/list')
        .send({ scope: drill.scope, order: [], offset: 0, limit: 500 })
        .expect(200)
    ).body as ListResponse;
    expect(list.records).toBe(Number(expected.n));
    const net = list.totals.filter((total) => typeof total === 'number').map(cents);
    expect(net).toContain(cents(why.value));
  });

  it('stands against target, last year and the parent', async () => {
    const agent = await demo.as('henrike-hollin');
    const why = (await agent.post('/api/reports/sales-against-target/exhibits/territory/explain').send(cell).expect(200))
      .body as Explanation;
    const [before] = await rows<{ net: string }>(
      `SELECT sum(quantity * unit_price - discount) AS net ${SOLD} AND country = 'Sweden' AND order_date BETWEEN '2025-04-01' AND '2025-06-30'`,
    );
    const [nordic] = await rows<{ net: string }>(
      `SELECT sum(quantity * unit_price - discount) AS net ${SOLD} AND region = 'Nordic' AND order_date BETWEEN '2026-04-01' AND '2026-06-30'`,
    );
    expect(why.against.map(({ label }) => label)).toEqual(['Target', 'Same days, last year', 'Share of Nordic']);
    expect(why.against[1].value).toBe(Number(before.net));
    expect(why.against[2].difference).toBeCloseTo(why.value! / Number(nordic.net), 12);
  });

  it('says why a city has no target', async () => {
    const agent = await demo.as('henrike-hollin');
    const why = (
      await agent
        .post('/api/reports/sales-against-target/exhibits/territory/explain')
        .send({ ...cell, side: ['Nordic', 'Sweden', 'Malmö'], measure: 'target' })
        .expect(200)
    ).body as Explanation;
    expect(why.value).toBeNull();
    expect(why.reason).toContain('Targets are set per country, line and month');
  });
});

describe('the list', () => {
  const page = async (body: object): Promise<ListResponse> =>
    (await (await demo.as('henrike-hollin')).post('/api/reports/order-lines/exhibits/lines/list').send(body).expect(200))
      .body as ListResponse;

  it('orders on the server as PostgreSQL does, and pages through all of it', async () => {
    const scope = { country: ['Hungary'], year: ['2026'] };
    const order = [{ field: 'net_amount', direction: 'desc' }];
    const first = await page({ scope, order, offset: 0, limit: 200 });
    const second = await page({ scope, order, offset: 200, limit: 200 });
    const expected = await rows<{ net_amount: string }>(
      `SELECT net_amount ${SOLD} AND country = 'Hungary' AND order_date >= '2026-01-01' ORDER BY net_amount DESC LIMIT 400`,
    );
    const index = 9;
    expect([...first.rows, ...second.rows].map((row) => row.kind === 'record' && row.values[index])).toEqual(
      expected.map((row) => Number(row.net_amount)),
    );
    const past = await page({ scope, order, offset: 1_000_000, limit: 50 });
    expect(past.rows).toEqual([]);
    expect(past.records).toBe(first.records);
  });

  it('takes conditions that no prompt asks for', async () => {
    const answer = await page({ scope: { weekday: ['7'], showroom: ['101'] }, order: [], offset: 0, limit: 10 });
    const [{ n }] = await rows<{ n: string }>(
      `SELECT count(*) AS n ${SOLD} AND s.showroom_id = 101 AND extract(isodow FROM order_date) = 7`,
    );
    expect(answer.records).toBe(Number(n));
  });
});

describe('prompts', () => {
  it('offer only what is left, with counts', async () => {
    const agent = await demo.as('henrike-hollin');
    const { body } = await agent
      .post('/api/reports/sales-against-target/members')
      .send({ field: 'country', scope: { region: ['Nordic'], city: ['Oslo'], channel: ['Rental'], year: ['2026'] } })
      .expect(200);
    const expected = await rows<{ country: string; n: number }>(
      `SELECT country, count(*)::int AS n FROM imported.order_lines JOIN imported.showrooms USING (showroom_id) WHERE region = 'Nordic' AND channel = 'Rental' AND order_date >= '2026-01-01' AND status NOT IN ('Cancelled', 'Returned') GROUP BY 1 ORDER BY 1`,
    );
    expect(
      (body as { members: { member: string; records: number }[] }).members.map(({ member, records }) => ({ country: member, n: records })),
    ).toEqual(expected);
  });
});

describe('bad questions', () => {
  it.each([
    ['an unknown report', '/api/reports/nothing/exhibits/x/kpis', {}, 404, 'report-not-found'],
    ['an unknown exhibit', '/api/reports/order-lines/exhibits/nothing/list', { order: [], offset: 0, limit: 5 }, 404, 'exhibit-not-found'],
    [
      'a field that is none',
      '/api/reports/order-lines/exhibits/lines/list',
      { scope: { planet: ['Mars'] }, order: [], offset: 0, limit: 5 },
      422,
      'scope-unknown',
    ],
    [
      'a member that is none',
      '/api/reports/order-lines/exhibits/lines/list',
      { scope: { country: ['Atlantis'] }, order: [], offset: 0, limit: 5 },
      422,
      'scope-unknown',
    ],
    [
      'a page that is too long',
      '/api/reports/order-lines/exhibits/lines/list',
      { order: [], offset: 0, limit: 100_000 },
      400,
      'bad-request',
    ],
    [
      'a field the fact does not know',
      '/api/reports/sales-against-target/exhibits/key-figures/kpis',
      { scope: 'everything' },
      400,
      'bad-request',
    ],
  ])('%s is told in plain words', async (_what, path, body, status, code) => {
    const agent = await demo.as('henrike-hollin');
    const answer = await agent.post(path).send(body).expect(status);
    expect(answer.type).toBe('application/problem+json');
    expect(answer.body).toMatchObject({ status, code });
    expect((answer.body as { detail: string }).detail).toMatch(/\.$/);
  });

  it('a broken body is told too', async () => {
    const agent = await demo.as('henrike-hollin');
    const answer = await agent
      .post('/api/reports/order-lines/members')
      .set('content-type', 'application/json')
      .send('{"scope":')
      .expect(400);
    expect(answer.body).toMatchObject({ code: 'bad-request' });
  });
});

describe('a very long cross-tab', () => {
  it('of every customer by month answers in windows that equal PostgreSQL', async () => {
    const agent = await demo.as('ines-calloway');
    const opened = (await agent.get('/api/reports/sales-against-target?draft=true').expect(200)).body as {
      report: { exhibits: { id: string; side?: object; top?: object }[] };
      revision: number;
    };
    const fields = (names: string[]): object => ({
      fields: names,
      total: 'always',
      openLevels: 0,
      order: { by: 'label', direction: 'asc' },
      hideEmpty: true,
    });
    const exhibits = opened.report.exhibits.map((exhibit) =>
      exhibit.id === 'territory'
        ? { ...exhibit, side: fields(['segment', 'customer']), top: fields(['month']), cells: [{ measure: 'net_sales' }] }
        : exhibit,
    );
    const saved = await agent
      .put('/api/reports/sales-against-target')
      .send({ report: { ...opened.report, exhibits }, revision: opened.revision })
      .expect(200);
    const window = { rows: { from: 6_000, count: 50 }, columns: { from: 10, count: 5 } };
    const body = { ...crosstab(axis(1), axis(0), {}, window), draft: true };
    const answer = (await agent.post('/api/reports/sales-against-target/exhibits/territory/crosstab').send(body).expect(200))
      .body as CrosstabResponse;
    expect(answer.rows.total).toBeGreaterThan(10_000);
    expect(answer.rows.items).toHaveLength(50);
    const customers = answer.rows.items.map((row) => row.path[1]).filter((customer) => customer !== undefined);
    const months = answer.columns.items.map((column) => column.path[0]);
    const expected = await rows<{ customer: string; month: string; net: string }>(
      `SELECT customer_id::text AS customer, to_char(order_date, 'YYYY-MM') AS month, sum(quantity * unit_price - discount) AS net ${SOLD}
       AND customer_id IN (${customers.join(', ')}) AND to_char(order_date, 'YYYY-MM') IN (${months.map((month) => `'${month}'`).join(', ')}) GROUP BY 1, 2`,
    );
    expect(expected.length).toBeGreaterThan(10);
    const ours = answer.rows.items.flatMap((row, r) =>
      answer.columns.items.flatMap((column, c) =>
        answer.cells[r][c] === null ? [] : [`${row.path[1]} ${column.path[0]} ${cents(answer.cells[r][c])}`],
      ),
    );
    expect(ours.sort()).toEqual(expected.map(({ customer, month, net }) => `${customer} ${month} ${Math.round(Number(net) * 100)}`).sort());
    await agent
      .put('/api/reports/sales-against-target')
      .send({ report: opened.report, revision: (saved.body as { revision: number }).revision })
      .expect(200);
  });
});

describe('drafts', () => {
  it('are saved from the revision they started from, and refused from an older one', async () => {
    const agent = await demo.as('ines-calloway');
    const { body } = await agent.get('/api/reports/order-lines?draft=true').expect(200);
    const opened = body as { report: { title: string }; revision: number };
    const changed = { ...opened.report, title: 'Every order line' };
    await agent
      .put('/api/reports/order-lines')
      .send({ report: changed, revision: opened.revision })
      .expect(200, { revision: opened.revision + 1 });
    const stale = await agent.put('/api/reports/order-lines').send({ report: opened.report, revision: opened.revision }).expect(409);
    expect(stale.body).toMatchObject({ code: 'stale-revision' });
    expect((await agent.get('/api/reports/order-lines?draft=true')).body).toMatchObject({ report: { title: 'Every order line' } });
    const manager = await demo.as('henrike-hollin');
    expect((await manager.get('/api/reports/order-lines?draft=true')).body).toMatchObject({ report: { title: 'Order lines' }, edition: 1 });
  });

  it('must be valid documents, of the same report, over fields that exist', async () => {
    const agent = await demo.as('ines-calloway');
    const { report, revision } = (await agent.get('/api/reports/sales-against-target?draft=true')).body as {
      report: { exhibits: { side?: { fields: string[] } }[] };
      revision: number;
    };
    const save = async (document: unknown): Promise<unknown> =>
      (await agent.put('/api/reports/sales-against-target').send({ report: document, revision }).expect(422)).body;
    expect(await save({ ...report, exhibits: 'none' })).toMatchObject({
      code: 'report-invalid',
      detail: expect.stringContaining('exhibits') as string,
    });
    expect(await save({ ...report, id: 'order-lines' })).toMatchObject({ code: 'report-invalid' });
    expect(await save({ ...report, dataset: 'other' })).toMatchObject({ code: 'report-invalid' });
    const exhibits = report.exhibits.map((exhibit) =>
      exhibit.side ? { ...exhibit, side: { ...exhibit.side, fields: ['planet'] } } : exhibit,
    );
    expect(await save({ ...report, exhibits })).toMatchObject({
      code: 'report-invalid',
      detail: expect.stringContaining('planet') as string,
    });
  });

  it('that are broken in the database are told, not shown', async () => {
    await demo.connection.pool.query(`UPDATE app.editions SET document = document - 'exhibits' WHERE report_id = 'order-lines'`);
    const agent = await demo.as('henrike-hollin');
    expect((await agent.get('/api/reports/order-lines').expect(422)).body).toMatchObject({ code: 'report-invalid' });
  });
});
