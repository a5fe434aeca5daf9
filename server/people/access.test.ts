import type {
  CommonScale,
  SectionsResponse,
  CellRecords,
  ChartResponse,
  CrosstabResponse,
  Explanation,
  ListResponse,
  MembersResponse,
  Thumbnail,
  VarianceResponse,
} from '@bold-compass/core/api';
import type { PrintedPages } from '@bold-compass/core/exports';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { exported, pdfPages } from '../../demo/testing/exported-files.ts';
import { foreignNames } from '../../demo/testing/foreign.ts';

/** A regional manager gets no record of another region by any call: every route is tried. */

let demo: DemoApp;
let expectNothingForeign: (body: unknown) => void;
let own: { n: number; net: number };
beforeAll(async () => {
  demo = await demoApp();
  const { pool } = demo.connection;
  expectNothingForeign = await foreignNames(demo);
  const totals = await pool.query<{ n: string; net: string }>(
    `SELECT count(*) AS n, sum(net_amount) AS net FROM imported.order_lines JOIN imported.showrooms USING (showroom_id) WHERE region = 'Nordic' AND status NOT IN ('Cancelled', 'Returned')`,
  );
  own = { n: Number(totals.rows[0].n), net: Number(totals.rows[0].net) };
});
afterAll(() => demo.close());

const axis = { open: { depth: 3, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: false };
const whole = { from: 0, count: 400 };
const crosstabBody = { side: axis, top: { ...axis, open: { depth: 0, exceptions: [] } }, rows: whole, columns: whole };
const R = '/api/reports/sales-against-target';
const L = '/api/reports/order-lines';
type Agent = Awaited<ReturnType<DemoApp['as']>>;

/** What a manager can do with each route; a new route fails the test until it is tried here. */
const NO_EXPORT = '7f0c1a4e-1111-4111-8111-111111111111';
const ATTEMPTS: Record<string, (agent: Agent) => Promise<void>> = {
  'get /session': async (agent) => expectNothingForeign((await agent.get('/api/session').expect(200)).body),
  'post /session': async (agent) => void (await agent.post('/api/session').send({ email: 'x', password: 'y' }).expect(401)),
  'delete /session': async () => undefined,
  'delete /sessions': async () => undefined,
  'get /demo-people': async (agent) => void (await agent.get('/api/demo-people').expect(200)),
  'post /demo-session': async (agent) => void (await agent.post('/api/demo-session').send({ person: 'nobody' }).expect(401)),
  'get /reports': async (agent) => expectNothingForeign((await agent.get('/api/reports').expect(200)).body),
  'get /reports/:report': async (agent) => {
    const { body } = await agent.get(R).expect(200);
    expectNothingForeign(body);
    expect(body).toMatchObject({ access: 'Region is Nordic', canCompose: false });
  },
  'post /reports/:report/scope-labels': async (agent) => {
    const { rows } = await demo.connection.pool.query<{ key: string; showroom: string; region: string }>(
      `SELECT DISTINCT ON (region) showroom_id::text AS key, showroom, region FROM imported.showrooms WHERE region IN ('Nordic', 'Atlantic') ORDER BY region`,
    );
    const [foreign, own] = ['Atlantic', 'Nordic'].map((region) => rows.find((row) => row.region === region)!);
    const answer = await agent
      .post(`${R}/scope-labels`)
      .send({ scope: { showroom: [own.key], region: ['Nordic'] } })
      .expect(200);
    expect(answer.body).toEqual({ showroom: { [own.key]: own.showroom } });
    const refused = await agent
      .post(`${R}/scope-labels`)
      .send({ scope: { showroom: [foreign.key] } })
      .expect(422);
    expectNothingForeign(refused.body);
  },
  'get /exports': async (agent) => expectNothingForeign((await agent.get('/api/exports').expect(200)).body),
  'get /exports/:export/file': async (agent) => void (await agent.get(`/api/exports/${NO_EXPORT}/file`).expect(404)),
  'post /exports/:export/cancel': async (agent) => void (await agent.post(`/api/exports/${NO_EXPORT}/cancel`).send({}).expect(404)),
  'delete /exports/:export': async (agent) => void (await agent.delete(`/api/exports/${NO_EXPORT}`).expect(404)),
  'post /exports': async (agent) => {
    const foreign = { region: ['Atlantic'] };
    const request = { report: R.split('/').at(-1), format: 'json' };
    await agent
      .post('/api/exports')
      .send({ ...request, scope: foreign })
      .expect(422);
    const { side, top } = crosstabBody;
    // Neither what an exhibit is asked under nor how it stands leads past the rules.
    await agent
      .post('/api/exports')
      .send({ ...request, exhibits: { territory: { asked: { scope: foreign }, state: { side, top } } } })
      .expect(422);
    const opened = { ...side, open: { depth: 2, exceptions: ['["Atlantic"]'] }, order: null };
    const order = { by: 'measure', measure: 'net_sales', direction: 'desc', at: ['Atlantic'] };
    const file = await exported(agent, { ...request, exhibits: { territory: { state: { side: opened, top: { ...top, order } } } } });
    expectNothingForeign(JSON.parse(file.toString('utf8')));
  },
  'post /exports/pages': async (agent) => {
    const ask = (part: object) => agent.post('/api/exports/pages').send({ report: 'region-by-region', format: 'pdf', ...part });
    await ask({ scope: { region: ['Atlantic'] } }).expect(422);
    await ask({ sections: 'open', choices: { 'report.section': ['region', 'Atlantic'] } }).expect(422);
    const { pdf, pages } = (await ask({}).expect(200)).body as PrintedPages;
    expectNothingForeign(pages);
    expectNothingForeign(await pdfPages(Buffer.from(pdf, 'base64')));
  },
  'post /reports/:report/sections': async (agent) => {
    const ask = (part: object) => agent.post('/api/reports/region-by-region/sections').send(part);
    const { body } = await ask({ scope: { year: ['2026'] } }).expect(200);
    expectNothingForeign(body);
    expect((body as SectionsResponse).sections.map(({ member }) => member)).toEqual(['Nordic']);
    await ask({ scope: { region: ['Atlantic'] } }).expect(422);
  },
  'post /reports/:report/exhibits/:exhibit/common-scale': async (agent) => {
    const axis = { open: { depth: 0, exceptions: [] }, hideEmpty: true };
    const ask = (part: object) =>
      agent.post('/api/reports/region-by-region/exhibits/months/common-scale').send({ side: axis, top: axis, field: 'region', ...part });
    const { measures } = (await ask({ scope: { year: ['2026'] } }).expect(200)).body as CommonScale;
    const { rows } = await demo.connection.pool.query<{ net: string }>(
      `SELECT sum(net_amount)::text AS net FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
       WHERE status NOT IN ('Cancelled', 'Returned') AND region = 'Nordic' AND extract(year FROM order_date) = 2026 GROUP BY extract(month FROM order_date)`,
    );
    const months = rows.map(({ net }) => Number(net));
    expect(measures[0]).toEqual({ low: Math.min(...months), high: Math.max(...months) });
    await ask({ choices: { 'report.section': ['region', 'Atlantic'] } }).expect(422);
  },
  'get /tile-server': async (agent) => {
    const { body } = await agent.get('/api/tile-server').expect(200);
    expect(body).toEqual({ isSet: true, attribution: 'Land: Natural Earth, public domain', address: null });
  },
  // Tiles show nothing of the data.
  'get /tiles/:z/:x/:y': async (agent) => void (await agent.get('/api/tiles/2/1/1').expect(200)),
  'get /signals': async (agent) => expectNothingForeign((await agent.get('/api/signals').expect(200)).body),
  'post /signals/seen': async (agent) => void (await agent.post('/api/signals/seen').send({}).expect(200)),
  'get /mailbox': async (agent) => expectNothingForeign((await agent.get('/api/mailbox').expect(200)).body),
  'post /watches': async (agent) => {
    const watched = { side: ['Atlantic', 'Ireland'], top: [], measure: 'attainment' };
    const body = { report: 'sales-against-target', exhibit: 'territory', watched, label: 'Attainment', query: {} };
    const answer = await agent.post('/api/watches').send(body).expect(422);
    expect(JSON.stringify(answer.body)).not.toContain('Ireland');
    const own = { ...body, watched: { ...watched, side: ['Nordic', 'Sweden'] } };
    expect((await agent.post('/api/watches').send(own).expect(200)).body).toHaveLength(1);
    expectNothingForeign((await agent.get('/api/signals').expect(200)).body);
  },
  'delete /watches/:id': async (agent) => void (await agent.delete('/api/watches/7f0c1a4e-1111-4111-8111-111111111111').expect(404)),
  'get /reports/:report/thumbnail': async (agent) => {
    const { body } = await agent.get(`${R}/thumbnail`).expect(200);
    expectNothingForeign(body);
    const { parts } = body as Thumbnail;
    expect(parts.flatMap(({ table }) => table?.lines ?? []).map(({ label }) => label)).toContain('Nordic');
    // What one person was shown is not remembered for another.
    const whole = await (await demo.as('henrike-hollin')).get(`${R}/thumbnail`).expect(200);
    const figure = (thumbnail: unknown): string | undefined =>
      (thumbnail as Thumbnail).parts.flatMap(({ figures }) => figures ?? []).find(({ label }) => label === 'Net sales')?.value;
    // In millions, as the figure is written; the initial scope is the current year.
    expect(figure(body)).toMatch(/^€\u00a0[\d.]+\u00a0M$/);
    expect(figure(whole.body)).not.toBe(figure(body));
    expect((await agent.get(`${R}/thumbnail`).expect(200)).body).toEqual(body);
    expect(JSON.stringify(body).length).toBeLessThan(10_000);
  },
  'get /reports/:report/pictures/:picture': async (agent) => void (await agent.get(`${R}/pictures/${'0'.repeat(64)}`).expect(404)),
  'get /reports/:report/shapes/:shapes': async (agent) => void (await agent.get(`${R}/shapes/${'0'.repeat(64)}`).expect(404)),
  'put /reports/:report/favourite': async (agent) => void (await agent.put(`${R}/favourite`).send({ favourite: false }).expect(200)),
  'post /reports/:report/values': async (agent) => {
    const { body } = await agent
      .post(`${R}/values`)
      .send({ measures: ['net_sales', 'nothing'], scope: {} })
      .expect(200);
    expect(body).toEqual({ net_sales: { value: own.net, reason: '' } });
  },
  'post /reports/:report/members': async (agent) => {
    for (const field of [
      'region',
      'country',
      'city',
      'showroom',
      'channel',
      'year',
      'line',
      'model',
      'segment',
      'customer',
      'adviser',
      'order_number',
      'status',
      'repair_family',
    ]) {
      const { body } = await agent.post(`${R}/members`).send({ field }).expect(200);
      expectNothingForeign(body);
      expect((body as MembersResponse).members.length, field).toBeGreaterThan(0);
    }
    const { body } = await agent.post(`${R}/members`).send({ field: 'year' }).expect(200);
    const { rows } = await demo.connection.pool.query<{ n: string }>(
      // What the fact always leaves out is not offered.
      `SELECT count(*) AS n FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
       WHERE region = 'Nordic' AND status NOT IN ('Cancelled', 'Returned')`,
    );
    expect((body as MembersResponse).members.reduce((sum, member) => sum + member.records, 0)).toBe(Number(rows[0].n));
    await agent
      .post(`${R}/members`)
      .send({ field: 'city', scope: { region: ['Mediterranean'] } })
      .expect(422);
  },
  'get /reports/:report/control-totals': async (agent) => {
    const { body } = await agent.get(`${R}/control-totals`).expect(200);
    expect(body).toEqual([]);
  },
  'put /reports/:report/views': async (agent) => {
    const { body } = await agent
      .put(`${R}/views`)
      .send({ name: 'Mine', query: { region: ['Nordic'] } })
      .expect(200);
    expectNothingForeign(body);
  },
  'delete /reports/:report/views/:view': async (agent) => void (await agent.delete(`${R}/views/nothing`).send({}).expect(404)),
  'post /reports/:report/possible': async (agent) => {
    const { body } = await agent
      .post(`${R}/possible`)
      .send({ scope: { region: ['Nordic'], country: ['Sweden'] }, changed: 'region' })
      .expect(200);
    expect(body).toEqual({ scope: { region: ['Nordic'], country: ['Sweden'] }, dropped: [] });
    await agent
      .post(`${R}/possible`)
      .send({ scope: { country: ['Spain'] }, changed: 'region' })
      .expect(422);
  },
  'post /reports/:report/exhibits/:exhibit/chart': async (agent) => {
    const axis = { open: { depth: 2, exceptions: [] }, hideEmpty: false };
    const ask = (side: object) =>
      agent
        .post('/api/reports/sales-in-charts/exhibits/variance/chart')
        .send({ side: { ...axis, ...side }, top: axis })
        .expect(200);
    const { body } = await ask({});
    expectNothingForeign(body);
    expect((body as ChartResponse).rows.items.length).toBeGreaterThan(1);
    const opened = await ask({ open: { depth: 0, exceptions: ['Ireland'] } });
    expectNothingForeign(opened.body);
  },
  'post /reports/:report/exhibits/:exhibit/variance': async (agent) => {
    const { body } = await agent.post('/api/reports/sales-in-charts/exhibits/changed/variance').send({}).expect(200);
    expectNothingForeign(body);
    const { fields } = body as VarianceResponse;
    expect(fields.find(({ field }) => field === 'region')!.named.map(({ label }) => label)).toEqual(['Nordic']);
    const foreign = { side: ['Ireland'], top: [], measure: 'net_sales', along: 'country' };
    const refused = await agent.post('/api/reports/sales-in-charts/exhibits/changed/explain').send(foreign).expect(422);
    expect(JSON.stringify(refused.body)).not.toContain('Ireland');
  },
  'post /reports/:report/exhibits/:exhibit/kpis': async (agent) => {
    const { body } = await agent.post(`${R}/exhibits/key-figures/kpis`).send({}).expect(200);
    expect((body as { value: number }[])[0].value).toBe(own.net);
    await agent
      .post(`${R}/exhibits/key-figures/kpis`)
      .send({ scope: { country: ['Italy'] } })
      .expect(422);
  },
  'post /reports/:report/exhibits/:exhibit/crosstab': async (agent) => {
    const { body } = await agent.post(`${R}/exhibits/territory/crosstab`).send(crosstabBody).expect(200);
    expectNothingForeign(body);
    const answer = body as CrosstabResponse;
    expect(answer.rows.items.filter((row) => row.depth === 1).map((row) => row.path)).toEqual([['Nordic']]);
    expect(answer.cells[0].at(-3)).toBe(own.net);
    await agent
      .post(`${R}/exhibits/territory/crosstab`)
      .send({ ...crosstabBody, scope: { region: ['Nordic', 'Atlantic'] } })
      .expect(422);
    const refused = await agent
      .post(`${R}/exhibits/territory/crosstab`)
      .send({ ...crosstabBody, scope: { city: ['Lyon'] } })
      .expect(422);
    const nonsense = await agent
      .post(`${R}/exhibits/territory/crosstab`)
      .send({ ...crosstabBody, scope: { city: ['Nowhere'] } })
      .expect(422);
    // What is not theirs and what does not exist are not told apart.
    expect((refused.body as { detail: string }).detail.replace('Lyon', 'X')).toBe(
      (nonsense.body as { detail: string }).detail.replace('Nowhere', 'X'),
    );
  },
  'post /reports/:report/exhibits/:exhibit/records': async (agent) => {
    const asked = { top: [], measure: 'net_sales', order: [], offset: 0, limit: 500 };
    const { body } = await agent
      .post(`${R}/exhibits/territory/records`)
      .send({ ...asked, side: [] })
      .expect(200);
    expectNothingForeign(body);
    expect((body as CellRecords).page.records).toBe(own.n);
    await agent
      .post(`${R}/exhibits/territory/records`)
      .send({ ...asked, side: ['Atlantic'] })
      .expect(422);
  },
  'post /reports/:report/exhibits/:exhibit/explain': async (agent) => {
    // Guessed members of others answer as members that do not exist: not even their labels.
    const guess = async (side: (string | null)[], top: (string | null)[] = []): Promise<object> =>
      (await agent.post(`${R}/exhibits/territory/explain`).send({ side, top, measure: 'net_sales' }).expect(422)).body as object;
    for (const side of [['Atlantic'], ['Atlantic', 'France'], ['Nordic', 'France'], ['Nordic', 'Sweden', 'Lyon'], [null, 'France']]) {
      const refused = await guess(side);
      expectNothingForeign(refused);
      expect(refused).toEqual(await guess(['Nowhere']));
    }
    const { side, top } = crosstabBody;
    const opened = { ...side, open: { depth: 0, exceptions: ['["Atlantic"]', '["Nordic"]'] }, order: null };
    const at = { by: 'measure', measure: 'net_sales', direction: 'desc', at: ['Atlantic'] };
    const window = await agent.post(`${R}/exhibits/territory/crosstab`).send({ ...crosstabBody, side: opened, top: { ...top, order: at } });
    expect(window.status).toBe(200);
    expectNothingForeign(window.body);
    const total = (await agent.post(`${R}/exhibits/territory/explain`).send({ side: [], top: [], measure: 'net_sales' }).expect(200))
      .body as Explanation;
    expectNothingForeign(total);
    expect(total.value).toBe(own.net);
  },
  'post /reports/:report/exhibits/:exhibit/list': async (agent) => {
    const { body } = await agent
      .post(`${L}/exhibits/lines/list`)
      .send({ order: [{ field: 'city', direction: 'desc' }], offset: 0, limit: 500 })
      .expect(200);
    expectNothingForeign(body);
    expect((body as ListResponse).records).toBe(own.n);
    await agent
      .post(`${L}/exhibits/lines/list`)
      .send({ scope: { showroom: ['175'] }, order: [], offset: 0, limit: 5 })
      .expect(422);
  },
};

describe('a regional manager', () => {
  it('is tried on every route that is open to managers', () => {
    const open = demo.app.routes.filter((route) => !Array.isArray(route.open) || route.open.includes('manager'));
    expect(open.map((route) => `${route.method} ${route.path}`).sort()).toEqual(Object.keys(ATTEMPTS).sort());
  });

  it('is refused by every other route, whatever it is asked', async () => {
    const agent = await demo.as('sanna-wikmark');
    const closed = demo.app.routes.filter((route) => Array.isArray(route.open) && !route.open.includes('manager'));
    expect(closed.length).toBeGreaterThan(10);
    for (const route of closed) {
      const path = `/api${route.path.replaceAll(/:\w+/g, '7f0c1a4e-1111-4111-8111-111111111111')}`;
      const answer = await agent[route.method](path).send({});
      expect(`${route.method} ${path} ${answer.status}`).toBe(`${route.method} ${path} 403`);
    }
  });

  it.each(Object.keys(ATTEMPTS))('sees their region only: %s', async (route) => {
    await ATTEMPTS[route](await demo.as('sanna-wikmark'));
  });
});

describe('access', () => {
  it('is by country for a country lead: no share of a parent can be calculated', async () => {
    const agent = await demo.as('elin-dahlmark');
    const { body } = await agent.post(`${R}/exhibits/territory/crosstab`).send(crosstabBody).expect(200);
    const countries = (body as CrosstabResponse).rows.items.filter((row) => row.depth === 2).map((row) => row.path[1]);
    expect(countries).toEqual(['Sweden']);
    const why = (await agent.post(`${R}/exhibits/territory/explain`).send({ side: ['Nordic', 'Sweden'], top: [], measure: 'net_sales' }))
      .body as Explanation;
    expect(why.against.find((one) => one.kind === 'share')!.difference).toBe(1);
  });

  it('shows nothing of a fact that does not know the ruled field', async () => {
    await demo.connection.pool.query(
      `INSERT INTO app.access_rules (person_id, dataset, field, members) VALUES ('mael-delorme', 'hollin-marsh', 'segment', '["School"]')`,
    );
    const agent = await demo.as('mael-delorme');
    const { body } = await agent.post(`${R}/exhibits/key-figures/kpis`).send({}).expect(200);
    const by = new Map((body as { id: string; value: number | null; target: number | null }[]).map((kpi) => [kpi.id, kpi]));
    // Sales are by customer; targets and repairs are not.
    expect(by.get('net-sales')!.value).toBeGreaterThan(0);
    expect(by.get('net-sales')!.target).toBeNull();
    expect(by.get('repairs')!.value).toBeNull();
  });

  it('is calculated apart for people who ask the same', async () => {
    const ask = async (person: string): Promise<number> =>
      ((await (await demo.as(person)).post(`${R}/exhibits/key-figures/kpis`).send({})).body as { value: number }[])[0].value;
    const [all, nordic, atlantic] = [await ask('henrike-hollin'), await ask('sanna-wikmark'), await ask('gareth-penhale')];
    expect(nordic).toBe(own.net);
    expect(new Set([all, nordic, atlantic]).size).toBe(3);
    expect(all).toBeGreaterThan(nordic + atlantic);
  });

  it('needs a session on every route but signing in', async () => {
    const { default: request } = await import('supertest');
    for (const route of demo.app.routes.filter((one) => one.open !== 'anyone')) {
      const path = `/api${route.path.replaceAll(/:\w+/g, 'x')}`;
      const answer = await request(demo.app.express)[route.method](path).send({});
      expect(`${route.method} ${path} ${answer.status}`).toBe(`${route.method} ${path} 401`);
    }
  });
});
