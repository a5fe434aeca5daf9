import type {
  CrosstabResponse,
  Edition,
  Explanation,
  ListResponse,
  MembersResponse,
  ReportSummary,
  ReportView,
} from '@bold-compass/core/api';
import { axisOver, crosstabSchema, listSchema, type Aggregation, type Report } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';

/** Reports as analysts make them, each figure held against PostgreSQL. */
type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
/** A report of this file's own. */
let id: string;
beforeAll(async () => {
  demo = await demoApp();
  agent = await demo.as('ines-calloway');
  id = await make('Trials', 'empty');
});
afterAll(() => demo.close());

const rows = async <Row extends object>(sql: string): Promise<Row[]> => (await demo.connection.pool.query<Row>(sql)).rows;
const SOLD = `FROM imported.order_lines AS o JOIN imported.showrooms AS s USING (showroom_id) JOIN imported.models AS m USING (model_id) WHERE o.status NOT IN ('Cancelled', 'Returned')`;
const NET = 'sum(quantity * unit_price - discount)';

async function make(title: string, layout: string): Promise<string> {
  const { body } = await agent.post('/api/reports').send({ title, folder: 'Trials', dataset: 'hollin-marsh', layout }).expect(200);
  return (body as { id: string }).id;
}
const open = async (report: string, draft = true): Promise<ReportView> =>
  (await agent.get(`/api/reports/${report}?draft=${draft}`).expect(200)).body as ReportView;
async function save(report: string, change: (document: Report) => Report, status = 200): Promise<unknown> {
  const { report: document, revision } = await open(report);
  return (
    await agent
      .put(`/api/reports/${report}`)
      .send({ report: change(document), revision })
      .expect(status)
  ).body;
}
const show = (exhibit: object): Promise<unknown> =>
  save(id, (report) => ({ ...report, exhibits: [exhibit as Report['exhibits'][number]] }));

const all = { open: { depth: 9, exceptions: [] }, hideEmpty: true };
const window = { rows: { from: 0, count: 400 }, columns: { from: 0, count: 400 } };
async function ask(exhibit: object, scope: object = { year: ['2026'] }): Promise<CrosstabResponse> {
  await show(crosstabSchema.parse({ kind: 'crosstab', id: 'table', title: 'Table', ...exhibit }));
  const body = { draft: true, scope, side: all, top: all, ...window };
  return (await agent.post(`/api/reports/${id}/exhibits/table/crosstab`).send(body).expect(200)).body as CrosstabResponse;
}
const cents = (value: number | null): number | null => (value === null ? null : Math.round(value * 100));
/** First column of figures by the words of the rows. */
const firstColumn = ({ rows: { items }, cells }: CrosstabResponse): Map<string, number | null> =>
  new Map(items.map((row, index) => [row.summary ?? (row.role === 'total' ? 'all' : row.labels.join(' › ')), cents(cells[index][0])]));

describe('a cross-tab', () => {
  it('shows the largest countries and all others, which are calculated from their records', async () => {
    const pick = { count: 3, measure: 'net_sales', per: 'all' };
    const answer = await ask({
      side: { fields: ['country'], levels: { country: { order: { by: 'measure', measure: 'net_sales' }, pick } } },
      top: { fields: [] },
      cells: [{ measure: 'net_sales' }, { measure: 'orders_count' }],
    });
    const expected = await rows<{ country: string; net: string; orders: string }>(
      `WITH one AS (SELECT country, rank() OVER (ORDER BY ${NET} DESC) AS place ${SOLD} AND order_date >= '2026-01-01' GROUP BY country)
       SELECT CASE WHEN place <= 3 THEN s.country ELSE 'All other countries' END AS country, ${NET} AS net, count(DISTINCT order_number) AS orders
       FROM imported.order_lines AS o JOIN imported.showrooms AS s USING (showroom_id) JOIN one ON one.country = s.country
       WHERE o.status NOT IN ('Cancelled', 'Returned') AND order_date >= '2026-01-01' GROUP BY 1 ORDER BY min(place) > 3, 2 DESC`,
    );
    expect(answer.rows.items.slice(0, 4).map(({ labels }) => labels[0])).toEqual(expected.map(({ country }) => country));
    expect(answer.cells.slice(0, 4)).toEqual(expected.map(({ net, orders }) => [Number(net), Number(orders)]));
    const [{ n }] = await rows<{ n: number }>('SELECT count(DISTINCT country)::int AS n FROM imported.showrooms');
    expect(answer.rows.items[3].others).toBe(n - 3);
    // The total is of every record, and "why this number" counts those of the others.
    const [all3] = await rows<{ net: string }>(`SELECT ${NET} AS net ${SOLD} AND order_date >= '2026-01-01'`);
    expect(answer.cells[4][0]).toBe(Number(all3.net));
    const why = (
      await agent
        .post(`/api/reports/${id}/exhibits/table/explain`)
        .send({ draft: true, scope: { year: ['2026'] }, side: answer.rows.items[3].path, top: [], measure: 'net_sales' })
        .expect(200)
    ).body as Explanation;
    expect(why.value).toBe(Number(expected[3].net));
    expect(why.drills).toEqual([]);
  });

  it('keeps only countries above the average of all, or above a number, and totals are of these', async () => {
    for (const [value, having] of [
      [
        'average',
        `HAVING ${NET} > (SELECT avg(net) FROM (SELECT ${NET} AS net ${SOLD} AND order_date >= '2026-01-01' GROUP BY country) AS q)`,
      ],
      [6_000_000, `HAVING ${NET} > 6000000`],
    ] as const) {
      const answer = await ask({
        side: { fields: ['country'], total: 'always' },
        top: { fields: [] },
        cells: [{ measure: 'net_sales' }],
        conditions: [{ field: 'country', measure: 'net_sales', op: 'gt', value }],
      });
      const expected = await rows<{ country: string; net: string }>(
        `SELECT country, ${NET} AS net ${SOLD} AND order_date >= '2026-01-01' GROUP BY country ${having}`,
      );
      expect(expected.length).toBeGreaterThan(1);
      const shown = firstColumn(answer);
      const sum = expected.reduce((total, { net }) => total + Math.round(Number(net) * 100), 0);
      expect(shown).toEqual(
        new Map([
          ...expected.sort((a, b) => (a.country < b.country ? -1 : 1)).map(({ country, net }) => [country, cents(Number(net))] as const),
          ['all', sum],
        ]),
      );
    }
  });

  it('counts one measure in two ways, leaves subtotals out, and ends with lines of what is shown', async () => {
    const answer = await ask({
      side: { fields: ['region', 'country'], summaries: ['average', 'median'], levels: { region: { subtotal: false } } },
      top: { fields: [] },
      cells: [{ measure: 'net_sales', aggregation: 'max' }, { measure: 'net_sales' }],
    });
    const expected = await rows<{ region: string; country: string; most: string }>(
      `SELECT region, country, max(quantity * unit_price - discount) AS most ${SOLD} AND order_date >= '2026-01-01' GROUP BY 1, 2`,
    );
    const shown = firstColumn(answer);
    for (const { region, country, most } of expected) expect(shown.get(`${region} › ${country}`)).toBe(cents(Number(most)));
    expect(shown.get('Nordic')).toBeNull();
    const [{ average, median }] = await rows<{ average: string; median: number }>(
      `SELECT avg(most) AS average, percentile_cont(0.5) WITHIN GROUP (ORDER BY most) AS median FROM (SELECT max(quantity * unit_price - discount) AS most ${SOLD} AND order_date >= '2026-01-01' GROUP BY region, country) AS q`,
    );
    // Regions show no figures of their own, so the lines are those of their countries.
    expect(shown.get('average')).toBe(cents(Number(average)));
    expect(shown.get('median')).toBe(cents(median));
    const [{ all: whole }] = await rows<{ all: string }>(
      `SELECT max(quantity * unit_price - discount) AS all ${SOLD} AND order_date >= '2026-01-01'`,
    );
    expect(shown.get('all')).toBe(cents(Number(whole)));
  });

  it('counts a measure in every way there is', async () => {
    const line = 'quantity * unit_price - discount';
    const ways: Record<Aggregation, string> = {
      ...{ sum: `sum(${line})`, avg: `avg(${line})`, min: `min(${line})`, max: `max(${line})`, count: `count(${line})` },
      ...{ count_distinct: `count(DISTINCT ${line})`, stddev: `stddev_samp(${line})` },
      median: `percentile_cont(0.5) WITHIN GROUP (ORDER BY ${line})`,
    };
    const names = Object.keys(ways) as Aggregation[];
    const cells = names.map((aggregation) => ({ measure: 'net_sales', aggregation }));
    const answer = await ask({ side: { fields: [] }, top: { fields: [] }, cells });
    const [expected] = await rows<Record<string, string>>(
      `SELECT ${names.map((name) => `${ways[name]} AS "${name}"`).join(', ')} ${SOLD} AND order_date >= '2026-01-01'`,
    );
    names.forEach((name, index) => {
      const value = Number(expected[name]);
      expect(Math.abs(answer.cells[0][index]! - value), name).toBeLessThanOrEqual(1e-9 * Math.abs(value));
    });
  });

  it('says in words where others would have to be calculated in too many places', async () => {
    const pick = { count: 1, measure: 'units' };
    await show(
      crosstabSchema.parse({
        ...{ kind: 'crosstab', id: 'table', title: 'T', top: { fields: [] }, cells: [{ measure: 'units' }] },
        side: { fields: ['day', 'showroom'], levels: { showroom: { pick } } },
      }),
    );
    const body = { draft: true, scope: { year: ['2026', '2025'] }, side: all, top: all, ...window };
    const refused = await agent.post(`/api/reports/${id}/exhibits/table/crosstab`).send(body).expect(422);
    expect(refused.body).toMatchObject({ code: 'too-large', detail: expect.stringContaining('places') as string });
  });

  it('answers for its own measures where another one read the same records', async () => {
    const axes = { side: { fields: [] }, top: { fields: [] } };
    // Margin is calculated of net sales and cost, so the questions are the same ones.
    const [[margin]] = (await ask({ ...axes, cells: [{ measure: 'gross_margin' }] })).cells;
    const [[net, cost]] = (await ask({ ...axes, cells: [{ measure: 'net_sales' }, { measure: 'cost_of_sales' }] })).cells;
    expect(net).toBeGreaterThan(0);
    expect((net! - cost!) / net!).toBeCloseTo(margin!, 12);
  });

  it('is filtered by members that are told with what they stand under', async () => {
    const asked = async (field: string, person = agent): Promise<MembersResponse['members']> => {
      const body = { field, scope: {}, draft: false, tree: true };
      const answer = await person.post('/api/reports/sales-against-target/members').send(body).expect(200);
      return (answer.body as MembersResponse).members;
    };
    const places = await rows<{ city: string; under: string[] }>(
      'SELECT DISTINCT city, ARRAY[region, country] AS under FROM imported.showrooms ORDER BY 1',
    );
    const cities = await asked('city');
    const told = cities.map(({ member, under }) => ({ city: member, under: under![0] }));
    expect(told.sort((a, b) => (a.city < b.city ? -1 : 1))).toEqual(places);
    const months = await asked('month');
    expect(months.find(({ member }) => member === '2026-03')?.under).toEqual([['2026']]);
    // What stands alone stands under nothing, and nobody is told of branches that are not theirs.
    expect((await asked('region')).every(({ under }) => under === undefined)).toBe(true);
    const own = await asked('city', await demo.as('sanna-wikmark'));
    expect(new Set(own.map(({ under }) => under![0][0]))).toEqual(new Set(['Nordic']));
  });
  it('orders and picks by a column that is not open', async () => {
    const at = ['2026', '2026-Q2'];
    const order = { by: 'measure', measure: 'net_sales', at, direction: 'desc' };
    const pick = { count: 4, measure: 'net_sales', at, per: 'all', others: true };
    const exhibit = crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'table', title: 'Table', cells: [{ measure: 'net_sales' }], top: { fields: ['year', 'quarter'] } },
      side: { fields: ['country'], levels: { country: { order, pick } } },
    });
    await show(exhibit);
    const closed = { open: { depth: 0, exceptions: [] }, hideEmpty: true, order: null };
    const body = { draft: true, scope: {}, side: closed, top: closed, ...window };
    const answer = (await agent.post(`/api/reports/${id}/exhibits/table/crosstab`).send(body).expect(200)).body as CrosstabResponse;
    const expected = await rows<{ country: string }>(
      `SELECT country ${SOLD} AND order_date >= '2026-04-01' AND order_date < '2026-07-01' GROUP BY 1 ORDER BY ${NET} DESC LIMIT 4`,
    );
    expect(answer.columns.items.map(({ role, depth }) => [role, depth])).not.toContainEqual(['member', 2]);
    expect(answer.rows.items.slice(0, 4).map(({ labels }) => labels[0])).toEqual(expected.map(({ country }) => country));
    // The others are told by the same column where their figure is explained: in a total, where that column is not.
    const others = answer.rows.items[4];
    const asked = { draft: true, scope: {}, side: others.path, top: [], measure: 'net_sales' };
    const { body: why } = await agent.post(`/api/reports/${id}/exhibits/table/explain`).send(asked).expect(200);
    expect((why as Explanation).value).toBe(answer.cells[4].at(-1));
    const [rest] = await rows<{ net: string }>(
      `SELECT ${NET} AS net ${SOLD} AND NOT country = ANY (ARRAY['${expected.map(({ country }) => country).join("','")}'])`,
    );
    expect(answer.cells[4].at(-1)).toBe(Number(rest.net));
  });
  it('orders a level by another field of its dimension', async () => {
    const answer = await ask({
      side: { fields: ['model'], levels: { model: { order: { by: 'field', field: 'list_price', direction: 'desc' } } } },
      top: { fields: [] },
      cells: [{ measure: 'units' }],
    });
    const prices = new Map(
      (await rows<{ id: string; price: string }>('SELECT model_id::text AS id, list_price AS price FROM imported.models')).map(
        ({ id: model, price }) => [model, Number(price)],
      ),
    );
    const shown = answer.rows.items.filter(({ role }) => role === 'member').map(({ path }) => prices.get(path[0]!)!);
    expect(shown.length).toBeGreaterThan(20);
    expect(shown).toEqual([...shown].sort((a, b) => b - a));
  });

  it('that asks for what is not there is refused with its name', async () => {
    const broken = crosstabSchema.parse({
      kind: 'crosstab',
      id: 'table',
      title: 'T',
      side: { fields: [] },
      top: { fields: [] },
      cells: [{ measure: 'nothing' }],
    });
    expect(await save(id, (report) => ({ ...report, exhibits: [broken] }), 422)).toMatchObject({
      detail: expect.stringContaining('nothing') as string,
    });
    const odd = { ...broken, cells: [{ measure: 'attainment', aggregation: 'max' as const }] };
    expect(await save(id, (report) => ({ ...report, exhibits: [odd] }), 422)).toMatchObject({
      detail: expect.stringContaining('no single aggregate') as string,
    });
    const twice = { ...broken, cells: [] };
    expect(await save(id, (report) => ({ ...report, exhibits: [twice, twice] }), 422)).toMatchObject({
      detail: expect.stringContaining('Two exhibits') as string,
    });
  });
});

describe('a list with groups', () => {
  const scope = { country: ['Hungary', 'Portugal'], year: ['2026'] };
  const list = (part: object): object =>
    listSchema.parse({
      ...{ kind: 'list', id: 'lines', title: 'Lines', fact: 'orders', groups: [{ field: 'line' }, { field: 'family' }] },
      columns: [
        { field: 'order_number', total: 'count_distinct' },
        { field: 'quantity', total: 'sum' },
        { field: 'order_date', total: undefined },
      ],
      ...part,
    });
  const page = async (offset: number, limit: number, order: object[] = []): Promise<ListResponse> =>
    (await agent.post(`/api/reports/${id}/exhibits/lines/list`).send({ draft: true, scope, order, offset, limit }).expect(200))
      .body as ListResponse;

  it('has headers and footers whose aggregates are those of PostgreSQL', async () => {
    await show(list({ detail: false }));
    const answer = await page(0, 500);
    const expected = await rows<{ line: string | null; family: string | null; orders: string; units: string }>(
      `SELECT line, family, count(DISTINCT order_number) AS orders, sum(quantity) AS units ${SOLD} AND country IN ('Hungary', 'Portugal') AND order_date >= '2026-01-01'
       GROUP BY GROUPING SETS ((line, family), (line), ())`,
    );
    const totals = new Map(
      expected.map(({ line, family, orders, units }) => [
        [line, family].filter(Boolean).join(' › '),
        [Number(orders), Number(units), null],
      ]),
    );
    expect(answer.totals).toEqual(totals.get(''));
    const groups = answer.rows.filter((row) => row.kind !== 'record');
    expect(groups.filter(({ kind }) => kind === 'group')).toHaveLength(expected.filter(({ family }) => family).length);
    for (const row of groups) expect(row.totals, row.groups.join(' › ')).toEqual(totals.get(row.groups.join(' › ')));
  });

  it('is leafed through and scrolled without a record lost, in the order asked for', async () => {
    await show(list({}));
    const first = await page(0, 1);
    const lines: ListResponse['rows'] = [];
    const order = [{ field: 'quantity', direction: 'desc' }];
    for (let offset = 0; offset < first.lines; offset += 173) lines.push(...(await page(offset, 173, order)).rows);
    expect(lines).toHaveLength(first.lines);
    const records = lines.filter((row) => row.kind === 'record');
    expect(records.map(({ number }) => number)).toEqual(records.map((_, index) => index + 1));
    const expected = await rows<{ line: string; family: string; n: number; units: number }>(
      `SELECT line, family, count(*)::int AS n, sum(quantity)::int AS units ${SOLD} AND country IN ('Hungary', 'Portugal') AND order_date >= '2026-01-01' GROUP BY 1, 2`,
    );
    for (const { line, family, n, units } of expected) {
      const own = records.filter(({ groups }) => groups[0] === line && groups[1] === family).map(({ values }) => Number(values[1]));
      expect(own).toHaveLength(n);
      expect(own.reduce((sum, value) => sum + value, 0)).toBe(units);
      expect(own).toEqual([...own].sort((a, b) => b - a));
    }
    expect(first.records).toBe(records.length);
  });

  it('shows measures for its groups', async () => {
    await show(list({ detail: false, groups: [{ field: 'line' }], columns: [{ measure: 'net_sales' }, { measure: 'gross_margin' }] }));
    const answer = await page(0, 100);
    const expected = await rows<{ line: string; net: string }>(
      `SELECT line, ${NET} AS net ${SOLD} AND country IN ('Hungary', 'Portugal') AND order_date >= '2026-01-01' GROUP BY 1 ORDER BY 1`,
    );
    const shown = answer.rows.flatMap((row) => (row.kind === 'group' ? [[row.groups[0], row.totals[0]]] : []));
    expect(shown).toEqual(expected.map(({ line, net }) => [line, Number(net)]));
  });
});

describe('the library', () => {
  const summaries = async (as: Agent = agent): Promise<ReportSummary[]> =>
    (await as.get('/api/reports').expect(200)).body as ReportSummary[];

  it.each(['empty', 'crosstab', 'figures', 'list'])('makes a report that opens: %s', async (layout) => {
    const made = await make(`Made ${layout}`, layout);
    const { report } = await open(made);
    expect(report.exhibits.length).toBe({ empty: 0, crosstab: 1, figures: 2, list: 1 }[layout]);
    for (const { kind, id: exhibit } of report.exhibits) {
      const question = { draft: true, scope: {}, side: all, top: all, ...window, order: [], offset: 0, limit: 20 };
      await agent.post(`/api/reports/${made}/exhibits/${exhibit}/${kind}`).send(question).expect(200);
    }
  });

  it('copies, puts away and brings back', async () => {
    const { body } = await agent.post('/api/reports/sales-against-target/copy').send({}).expect(200);
    const copy = (body as { id: string }).id;
    expect((await open(copy)).report).toMatchObject({ title: 'Copy of Sales against target by territory', id: copy });
    await agent.delete(`/api/reports/${copy}`).expect(200);
    await agent.get(`/api/reports/${copy}`).expect(404);
    expect((await summaries()).some((report) => report.id === copy)).toBe(false);
    await agent.post(`/api/reports/${copy}/restore`).send({}).expect(200);
    expect((await summaries()).some((report) => report.id === copy)).toBe(true);
    await agent.delete('/api/reports/nothing').expect(404);
  });

  it('takes a document in, and refuses one that does not fit', async () => {
    const { report } = await open('order-lines');
    const { body } = await agent.post('/api/reports/import').send({ report }).expect(200);
    expect((await open((body as { id: string }).id)).report.exhibits).toEqual(report.exhibits);
    await agent
      .post('/api/reports/import')
      .send({ report: { ...report, exhibits: 5 } })
      .expect(422);
    await agent
      .post('/api/reports/import')
      .send({ report: { ...report, dataset: 'nowhere' } })
      .expect(404);
  });

  it('keeps favourites and what was opened last, for each person', async () => {
    const manager = await demo.as('henrike-hollin');
    await manager.put('/api/reports/order-lines/favourite').send({ favourite: true }).expect(200);
    await manager.get('/api/reports/order-lines').expect(200);
    const own = (await summaries(manager)).find((report) => report.id === 'order-lines')!;
    expect(own.favourite).toBe(true);
    expect(own.openedAt).not.toBeNull();
    expect((await summaries()).find((report) => report.id === 'order-lines')!.favourite).toBe(false);
    await manager.put(`/api/reports/${id}/favourite`).send({ favourite: true }).expect(404);
  });

  it('publishes numbered editions, which are all that managers see, and compares them in words', async () => {
    const manager = await demo.as('henrike-hollin');
    await show(
      crosstabSchema.parse({
        kind: 'crosstab',
        id: 'table',
        title: 'Sales',
        side: { fields: ['region'] },
        top: { fields: ['year'] },
        cells: [{ measure: 'net_sales' }],
      }),
    );
    await manager.get(`/api/reports/${id}`).expect(404);
    const { revision } = await open(id);
    await agent
      .post(`/api/reports/${id}/publish`)
      .send({ note: 'Old', revision: revision - 1 })
      .expect(409);
    expect((await agent.post(`/api/reports/${id}/publish`).send({ note: 'First', revision }).expect(200)).body).toEqual({ edition: 1 });
    await save(id, (report) => ({
      ...report,
      title: 'Trials and errors',
      exhibits: [
        crosstabSchema.parse({
          ...report.exhibits[0],
          side: axisOver(['region', 'country']),
          style: 'ledger',
          cells: [{ measure: 'units' }],
        }),
      ],
    }));
    expect((await manager.get(`/api/reports/${id}`).expect(200)).body).toMatchObject({ edition: 1, report: { title: 'Trials' } });
    const draft = (await agent.get(`/api/reports/${id}/editions/1/changes`).expect(200)).body as { changes: string[] };
    expect(draft.changes).toEqual([
      'The title was “Trials” and is “Trials and errors” now.',
      '“Sales”: Country was added down the side.',
      '“Sales”: Units sold was added in the cells.',
      '“Sales”: Net sales was removed in the cells.',
      '“Sales”: its style changed.',
    ]);
    await agent
      .post(`/api/reports/${id}/publish`)
      .send({ note: 'Second', revision: (await open(id)).revision })
      .expect(200);
    const editions = (await agent.get(`/api/reports/${id}/editions`).expect(200)).body as Edition[];
    expect(editions.map(({ number, note, by }) => [number, note, by])).toEqual([
      [2, 'Second', 'Ines Calloway'],
      [1, 'First', 'Ines Calloway'],
    ]);
    expect((await agent.get(`/api/reports/${id}/editions/1/changes?to=2`)).body).toEqual(draft);
    expect((await agent.get(`/api/reports/${id}/editions/1`)).body).toMatchObject({ report: { title: 'Trials' } });
    await agent.get(`/api/reports/${id}/editions/9`).expect(404);
    expect((await manager.get(`/api/reports/${id}`).expect(200)).body).toMatchObject({
      edition: 2,
      report: { title: 'Trials and errors' },
    });
  });

  it('lists of a report what each may see of it: its draft, or its newest edition', async () => {
    const manager = await demo.as('henrike-hollin');
    await save(id, (report) => ({ ...report, title: 'Not for managers yet', folder: 'Elsewhere', note: 'A draft' }));
    const own = async (as?: Agent): Promise<ReportSummary> => (await summaries(as)).find((report) => report.id === id)!;
    expect(await own()).toMatchObject({ title: 'Not for managers yet', folder: 'Elsewhere', note: 'A draft', edition: 2 });
    expect(await own(manager)).toMatchObject({ title: 'Trials and errors', folder: 'Trials', note: '', edition: 2 });
    const kinds = new Map((await summaries()).map((report) => [report.id, report.kinds]));
    expect(kinds.get(id)).toEqual(['crosstab']);
    expect(kinds.get('sales-against-target')).toEqual(['kpis', 'crosstab']);
    const ordered = (await summaries()).map(({ folder, title }) => [folder, title]);
    expect(ordered).toEqual(ordered.toSorted(([a, b], [c, d]) => a.localeCompare(c, 'en-GB') || b.localeCompare(d, 'en-GB')));
  });

  it('opens an edition as it was published, whatever happens to its report', async () => {
    const manager = await demo.as('henrike-hollin');
    const before = await manager.get(`/api/reports/${id}`).expect(200);
    await save(id, (report) => ({ ...report, exhibits: [] }));
    expect(await open(id)).toMatchObject({ report: { exhibits: [] } });
    expect((await manager.get(`/api/reports/${id}`).expect(200)).body).toMatchObject({ report: (before.body as ReportView).report });
    // Deleted and made anew under the same id, nothing of the old one is remembered.
    const { rows: kept } = await demo.connection.pool.query<{ draft: Report }>('DELETE FROM app.reports WHERE id = $1 RETURNING draft', [
      id,
    ]);
    await demo.connection.pool.query('INSERT INTO app.reports (id, draft) VALUES ($1, $2)', [
      id,
      { ...kept[0].draft, title: 'Trials anew' },
    ]);
    expect(await open(id)).toMatchObject({ edition: null, revision: 1, report: { title: 'Trials anew' } });
    await manager.get(`/api/reports/${id}`).expect(404);
  });

  it('lets a page hold exhibits of another dataset, under the part of the scope that it knows', async () => {
    const pool = demo.connection.pool;
    await pool.query(
      `CREATE TABLE imported.visits AS SELECT * FROM (VALUES ('Nordic', 3), ('Atlantic', 4)) AS v (region, people); GRANT SELECT ON imported.visits TO bold_compass_reader`,
    );
    const definition = {
      ...{ schemaVersion: 1, name: 'other', label: 'Visits', description: '', dimensions: [] },
      facts: [
        {
          ...{ name: 'visits', label: 'Visits', record: { one: 'visit', many: 'visits' }, table: 'visits', links: [], filter: null },
          fields: [
            { name: 'region', label: 'Region', column: 'region', type: 'text', scale: 0 },
            { name: 'people', label: 'People', column: 'people', type: 'integer', scale: 0 },
          ],
        },
      ],
      measures: [
        {
          name: 'guests',
          label: 'Guests',
          formula: 'sum(people)',
          fact: 'visits',
          format: { kind: 'number', decimals: 0, unit: 'one' },
          direction: 'higher',
        },
      ],
    };
    await pool.query(`INSERT INTO app.datasets (name, definition) VALUES ('other', $1)`, [definition]);
    const answer = await ask(
      { dataset: 'other', side: { fields: ['region'] }, top: { fields: [] }, cells: [{ measure: 'guests' }] },
      { year: ['2026'], region: ['Nordic'] },
    );
    expect(answer.cells).toEqual([[3]]);
    expect((await open(id)).datasets.other.label).toBe('Visits');
    // It is not removed while a report stands on it.
    expect((await agent.delete('/api/datasets/other').expect(409)).body).toMatchObject({
      detail: expect.stringContaining('Trials') as string,
    });
  });
});
