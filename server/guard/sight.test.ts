import type { ImportView, KpiResponse, ListResponse, ReportSummary, ReportView, Signals, ValuesResponse } from '@bold-compass/core/api';
import type { Filter, Report } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { foreignNames } from '../../demo/testing/foreign.ts';
import { importFinished } from '../../demo/testing/waiting.ts';

/** What a person may see, whichever route is asked and through whose eyes. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let analyst: Agent;
let other: Agent;
beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
  await demo.connection.pool.query(`UPDATE app.people SET role = 'analyst' WHERE id = 'dario-santoro'`);
  other = await demo.as('dario-santoro');
});
afterAll(() => demo.close());

describe('a dataset whose access is undecided', () => {
  let own: string;
  let mixed: string;
  beforeAll(async () => {
    const view = await importFinished(
      analyst,
      (await analyst.post('/api/imports').attach('file', Buffer.from('shop,n\nOslo,5\n'), 'file.csv').expect(200)).body as ImportView,
    );
    const plan = { reading: view.reading, columns: view.columns, key: [], choices: {} };
    const target = { kind: 'dataset', label: 'Only mine' };
    await importFinished(
      analyst,
      (await analyst.post(`/api/imports/${view.id}/stage`).send({ plan, target }).expect(200)).body as ImportView,
    );
    const made = (await analyst.post(`/api/imports/${view.id}/commit`).send({}).expect(200)).body as { dataset: string; report: string };
    own = made.report;
    // A report over open data with one exhibit over what nobody else sees.
    const { report } = (await analyst.get(`/api/reports/${own}?draft=true`).expect(200)).body as ReportView;
    const { report: open } = (await analyst.get('/api/reports/order-lines/document').expect(200)).body as { report: Report };
    const exhibit = { ...report.exhibits[0], id: 'secret', dataset: made.dataset };
    const document = { ...open, title: 'Mixed', exhibits: [...open.exhibits, exhibit] };
    mixed = ((await analyst.post('/api/reports/import').send({ report: document }).expect(200)).body as { id: string }).id;
  });

  /** What routes want of a body before they look at the report. */
  const BODIES: Record<string, object> = {
    'put /reports/:report': { report: {}, revision: 1 },
    'patch /reports/:report': { changes: [], revision: 1 },
    'post /reports/:report/publish': { revision: 1 },
    'put /reports/:report/favourite': { favourite: true },
    'put /reports/:report/views': { name: 'Mine', query: {} },
    'post /reports/:report/values': { measures: [], draft: true },
    'post /reports/:report/members': { field: 'shop', draft: true },
    'post /reports/:report/possible': { changed: 'shop', draft: true },
  };
  const axis = { open: { depth: 0, exceptions: [] }, hideEmpty: false };
  const rows = { from: 0, count: 1 };
  const cell = { side: [], top: [], measure: 'n' };
  const EXHIBIT_BODIES: Record<string, object> = {
    crosstab: { side: axis, top: axis, rows, columns: rows },
    chart: { side: axis, top: axis },
    'common-scale': { side: axis, top: axis, field: 'shop' },
    explain: cell,
    try: { ...cell, formula: '1' },
    formula: { ...cell, formula: '1' },
    records: { ...cell, order: [], offset: 0, limit: 1 },
    list: { order: [], offset: 0, limit: 1 },
    spread: {
      measure: 'n',
      field: 'shop',
      indicator: { against: { kind: 'value', value: 1 }, by: 'ratio', onCourse: 1, drifting: 0.9, direction: 'higher' },
    },
  };
  /** Views of a report are read and removed by their keeper's id, so these name nothing of the report. */
  const BY_KEEPER = ['delete /reports/:report/views/:view'];

  it('shows nothing of its reports on paper, nor in files', async () => {
    for (const report of [own, mixed])
      for (const path of ['/api/exports', '/api/exports/pages']) {
        const answer = await other.post(path).send({ report, format: 'pdf', draft: true });
        expect([path, answer.status, (answer.body as { code: string }).code]).toEqual([path, 403, 'not-allowed']);
      }
  });

  it('shows nothing of its reports to other analysts: every route that names a report asks for sight', async () => {
    const named = demo.app.routes.filter(({ path }) => path.startsWith('/reports/:report'));
    expect(named.length).toBeGreaterThan(20);
    for (const report of [own, mixed]) {
      for (const one of named) {
        const key = `${one.method} ${one.path}`;
        if (BY_KEEPER.includes(key)) continue;
        const question = one.path.split('/').at(-1)!;
        const body = BODIES[key] ?? { draft: true, ...(one.path.includes(':exhibit') ? EXHIBIT_BODIES[question] : {}) };
        const path = `/api${one.path}`
          .replace(':report', report)
          .replace(':edition', '1')
          .replace(':exhibit', 'secret')
          .replace(/:(picture|shapes)/, '0'.repeat(64));
        const answer = await other[one.method](one.method === 'get' ? `${path}?draft=true` : path).send(body);
        // An edition that there is not says nothing of the report either.
        const expected = one.path.includes(':edition') ? 404 : 403;
        expect(`${key} ${answer.status} ${(answer.body as { code: string }).code}`).toBe(
          `${key} ${expected} ${expected === 403 ? 'not-allowed' : 'report-not-found'}`,
        );
      }
    }
  });

  it('leaves its reports out of the library, and as they were', async () => {
    const ids = ((await other.get('/api/reports').expect(200)).body as ReportSummary[]).map(({ id }) => id);
    expect(ids).not.toContain(own);
    expect(ids).not.toContain(mixed);
    expect(((await analyst.get('/api/reports').expect(200)).body as ReportSummary[]).map(({ id }) => id)).toEqual(
      expect.arrayContaining([own, mixed]),
    );
  });
});

describe('seeing what someone else sees', () => {
  const net = async (person?: string): Promise<number> => {
    const asked = other.post('/api/reports/sales-against-target/exhibits/key-figures/kpis').send({});
    const { body } = await (person ? asked.set('x-view-as', person) : asked).expect(200);
    return (body as KpiResponse)[0].value as number;
  };
  const sold = async (where: string): Promise<number> => {
    const { rows } = await demo.connection.pool.query<{ net: string | null }>(
      `SELECT sum(net_amount) AS net FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
       WHERE status NOT IN ('Cancelled', 'Returned') AND ${where}`,
    );
    return rows[0].net === null ? Number.NaN : Number(rows[0].net);
  };
  const rule = (field: string, members: string[]): Promise<unknown> =>
    demo.connection.pool.query(
      `INSERT INTO app.access_rules (person_id, dataset, field, members) VALUES ('dario-santoro', 'hollin-marsh', $1, $2)`,
      [field, JSON.stringify(members)],
    );

  it('shows no more than the one who looks may see: the rules of both hold', async () => {
    await demo.connection.pool.query(`DELETE FROM app.access_rules WHERE person_id = 'dario-santoro'`);
    await demo.connection.pool.query(`DELETE FROM app.group_members WHERE person_id = 'dario-santoro'`);
    await rule('country', ['Sweden', 'Italy']);
    other = await demo.as('dario-santoro');
    expect(await net()).toBe(await sold(`country IN ('Sweden', 'Italy')`));
    // The managing director sees everything; the manager of the Nordic region sees that.
    expect(await net('henrike-hollin')).toBe(await sold(`country IN ('Sweden', 'Italy')`));
    expect(await net('sanna-wikmark')).toBe(await sold(`country = 'Sweden'`));
    // Rules on the same field: what stands in both.
    await demo.connection.pool.query(`DELETE FROM app.access_rules WHERE person_id = 'dario-santoro'`);
    await rule('region', ['Nordic', 'Mediterranean']);
    other = await demo.as('dario-santoro');
    expect(await net('sanna-wikmark')).toBe(await sold(`region = 'Nordic'`));
    expect(await net('gareth-penhale')).toBeNull();
    const names = await foreignNames(demo);
    const { body } = await other
      .post('/api/reports/sales-against-target/members')
      .set('x-view-as', 'henrike-hollin')
      .send({ field: 'city' });
    expect((body as { members: { key: string }[] }).members.length).toBeGreaterThan(0);
    const nordic = await other.post('/api/reports/sales-against-target/members').set('x-view-as', 'sanna-wikmark').send({ field: 'city' });
    names(nordic.body);
  });

  it('reads nothing that is theirs alone: signals, views, favourites, mail', async () => {
    const person = await demo.as('sanna-wikmark');
    const report = '/api/reports/sales-against-target';
    await person.put(`${report}/views`).send({ name: 'My own', query: {} }).expect(200);
    await person.put(`${report}/favourite`).send({ favourite: true }).expect(200);
    await person.get(report).expect(200);
    const watched = { side: ['Nordic', 'Sweden'], top: [], measure: 'attainment' };
    await person
      .post('/api/watches')
      .send({ report: 'sales-against-target', exhibit: 'territory', watched, label: 'Attainment', query: {} })
      .expect(200);
    await demo.connection.pool.query(
      `INSERT INTO app.mails (person_id, address, subject, body, rules)
       SELECT person_id, 'x@y.example', 'Private', 'Private', rules FROM app.watches WHERE person_id = 'sanna-wikmark'`,
    );
    const as = (path: string) => analyst.get(path).set('x-view-as', 'sanna-wikmark').expect(200);
    expect((await person.get('/api/mailbox')).body).toHaveLength(1);
    expect((await as('/api/mailbox')).body).toEqual([]);
    expect(((await person.get('/api/signals')).body as Signals).watches).toHaveLength(1);
    expect((await as('/api/signals')).body).toEqual({ signals: [], watches: [], unseen: 0 });
    expect(((await person.get(report)).body as ReportView).views).toHaveLength(1);
    expect(((await as(report)).body as ReportView).views).toEqual([]);
    const marked = ((await person.get('/api/reports')).body as ReportSummary[]).find(({ id }) => id === 'sales-against-target');
    expect(marked).toMatchObject({ favourite: true, openedAt: expect.any(String) as string });
    const seen = ((await as('/api/reports')).body as ReportSummary[]).find(({ id }) => id === 'sales-against-target');
    expect(seen).toMatchObject({ favourite: false, openedAt: null });
  });
});

describe('conditions that a reader sends', () => {
  it('let nothing through that access rules forbid, however many they are', async () => {
    const manager = await demo.as('sanna-wikmark');
    const { dataset } = (await manager.get('/api/reports/order-lines').expect(200)).body as ReportView;
    const fact = dataset.facts.find(({ table }) => table === 'order_lines')!;
    const linked = dataset.dimensions.filter(({ name }) => fact.links.some((link) => link.dimension === name));
    const fields = [...linked.map(({ levels }) => levels.at(-1)!.name), ...fact.fields.map(({ name }) => name)];
    expect(fields.length).toBeGreaterThan(12);
    const records = async (where: Filter): Promise<number> => {
      const asked = { where, order: [], offset: 0, limit: 20 };
      return ((await manager.post('/api/reports/order-lines/exhibits/lines/list').send(asked).expect(200)).body as ListResponse).records;
    };
    const values = async (where: Filter): Promise<(number | null)[]> => {
      const asked = { where, measures: ['net_sales', 'orders_count'] };
      const { body } = await manager.post('/api/reports/order-lines/values').send(asked).expect(200);
      return Object.values(body as ValuesResponse).map(({ value }) => value);
    };
    // Each of them holds for no record: the rule and any number of them leave every record out.
    const nothing = fields.map((field): Filter => ({ op: 'in', field, values: [] }));
    for (const count of [1, 9, nothing.length]) {
      const where: Filter = { op: 'and', items: nothing.slice(0, count) };
      expect(await records(where)).toBe(0);
      expect((await values(where)).every((value) => value === null || value === 0)).toBe(true);
    }
    // Each of them holds for the records of the other regions only.
    const foreign = fields.map((field): Filter => ({
      op: 'or',
      items: [
        { op: 'in', field, values: [] },
        { op: 'not', item: { op: 'in', field: 'region', values: ['Nordic'] } },
      ],
    }));
    expect(await records({ op: 'and', items: foreign })).toBe(0);
  });
});
