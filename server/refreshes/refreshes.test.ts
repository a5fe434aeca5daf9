import type {
  AccessView,
  CrosstabResponse,
  Drift,
  JoinCheck,
  Load,
  QueryCheck,
  QueryPreview,
  ReportView,
  Signals,
  SourceView,
  TableSummary,
} from '@bold-compass/core/api';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { loadEnded } from '../../demo/testing/waiting.ts';
import { WAREHOUSE_CONNECTION } from '../../demo/warehouse.ts';
import { SecretBox } from '../connections/index.ts';

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
/** The warehouse as its owner sees it. */
let warehouse: pg.Client;
beforeAll(async () => {
  demo = await demoApp();
  agent = await demo.as('ines-calloway');
  const { rows } = await demo.connection.pool.query<{ database: string }>(`SELECT database FROM app.connections`);
  warehouse = new pg.Client({ connectionString: demo.connection.url.replace(/\/[^/]*$/, `/${rows[0].database}`) });
  await warehouse.connect();
});
afterAll(async () => {
  await warehouse.end();
  await demo.close();
});

const query = (text: string, parameters: object[] = []): object => ({ connection: WAREHOUSE_CONNECTION, text, parameters });
const check = async (text: string, parameters: object[] = []): Promise<QueryCheck> =>
  (await agent.post('/api/queries/check').send(query(text, parameters)).expect(200)).body as QueryCheck;
async function refusal(text: string): Promise<{ detail: string; about?: { position?: number } }> {
  const { body } = await agent.post('/api/queries/preview').send(query(text)).expect(422);
  expect((body as { code: string }).code).toBe('query-invalid');
  return body as { detail: string; about?: { position?: number } };
}

/** The revision of a source that a change starts from. */
async function revisionOf(id: string): Promise<number> {
  const { body } = await agent.get('/api/sources').expect(200);
  return (body as SourceView[]).find((source) => source.id === id)!.revision;
}

describe('a connection', () => {
  it('never shows its password, nor keeps it readable', async () => {
    const { text } = await agent.get('/api/connections').expect(200);
    const { rows } = await demo.connection.pool.query<{ secret: string }>('SELECT secret FROM app.connections');
    expect(text).not.toContain('secret');
    expect(text).not.toContain('password');
    expect(Buffer.from(rows[0].secret, 'base64').toString('latin1')).not.toMatch(/^[\w-]{24}$/);
  });

  it('is tried before it is saved, and says what is wrong', async () => {
    const url = new URL(demo.connection.url);
    const form = {
      label: 'Elsewhere',
      host: url.hostname,
      port: Number(url.port),
      database: 'nowhere',
      user: url.username,
      password: 'wrong',
    };
    const wrong = await agent.post('/api/connections').send(form).expect(422);
    expect(wrong.body).toMatchObject({ code: 'connection-failed', detail: 'The server refused the user or the password.' });
    const closed = await agent
      .post('/api/connections')
      .send({ ...form, port: 1 })
      .expect(422);
    expect(closed.body).toMatchObject({ detail: expect.stringContaining('Nothing answers') as string });
    // The application's own user would read its tables; so would any superuser on its server.
    const own = { ...form, password: decodeURIComponent(url.password), database: url.pathname.slice(1) };
    for (const database of [own.database, 'postgres']) {
      const { body } = await agent
        .post('/api/connections')
        .send({ ...own, database })
        .expect(422);
      expect(body).toMatchObject({ code: 'connection-failed', detail: expect.stringContaining('the application itself') as string });
    }
    // Sockets lead into the machine past everything that guards the network.
    await agent
      .post('/api/connections')
      .send({ ...own, host: '/var/run/postgresql' })
      .expect(400);
    const user = `reader_${own.database}`;
    await demo.connection.pool.query(`CREATE ROLE ${user} LOGIN PASSWORD 'only reads'`);
    const right = { ...own, user, password: 'only reads' };
    const saved = (await agent.post('/api/connections').send(right).expect(200)).body as { id: string; revision: number };
    // A kept password goes only where it went before.
    for (const place of [{ host: 'localhost' }, { database: 'template1' }, { user: 'postgres' }]) {
      const moved = { ...right, ...place, password: undefined, revision: saved.revision };
      await agent.put(`/api/connections/${saved.id}`).send(moved).expect(422);
    }
    const renamed = { ...right, label: 'Own', password: undefined, revision: saved.revision };
    await agent.put(`/api/connections/${saved.id}`).send(renamed).expect(200);
    const late = await agent.put(`/api/connections/${saved.id}`).send(renamed).expect(409);
    expect(late.body).toMatchObject({ code: 'stale-revision' });
    await demo.connection.pool.query(`DROP ROLE ${user}`);
    await agent.delete(`/api/connections/${saved.id}`).expect(200);
  });

  it('whose password was kept with another key says so', async () => {
    const [{ secret }] = (await demo.connection.pool.query<{ secret: string }>('SELECT secret FROM app.connections')).rows;
    await demo.connection.pool.query('UPDATE app.connections SET secret = $1', [new SecretBox('another key').seal('x')]);
    const { body } = await agent.get(`/api/connections/${WAREHOUSE_CONNECTION}/tables`).expect(422);
    expect(body).toMatchObject({ code: 'connection-failed', detail: expect.stringContaining('type it again') as string });
    await demo.connection.pool.query('UPDATE app.connections SET secret = $1', [secret]);
  });

  it('lists what its user may read, with columns, and shows first rows', async () => {
    const found = (await agent.get(`/api/connections/${WAREHOUSE_CONNECTION}/tables`).expect(200)).body as TableSummary[];
    expect(found.map(({ schema, name }) => `${schema}.${name}`)).toEqual(['warehouse.sales', 'warehouse.staff']);
    const { rows } = await warehouse.query<{ n: string }>('SELECT count(*) AS n FROM warehouse.sales');
    expect(found[0].rows).toBe(Number(rows[0].n));
    expect(found[1].columns.map(({ name }) => name)).toEqual(['person_id', 'name', 'title', 'lead_id', 'showroom_id']);
    expect(found[0].references).toEqual([{ column: 'adviser_id', schema: 'warehouse', table: 'staff', key: 'person_id' }]);
    const sample = await agent
      .post(`/api/connections/${WAREHOUSE_CONNECTION}/sample`)
      .send({ schema: 'warehouse', table: 'staff' })
      .expect(200);
    expect((sample.body as QueryPreview).rows).toHaveLength(20);
  });
});

describe('a written query', () => {
  it('is checked: columns and types, and its parameters', async () => {
    const answer = await check(
      'SELECT sold_on, channel, sum(quantity) AS units, sum(discount)::numeric(14,2) AS discount FROM warehouse.sales WHERE sold_on >= :since GROUP BY 1, 2; -- by day',
      [{ name: 'since', type: 'date', value: '2026-10-01' }],
    );
    expect(answer).toEqual({
      columns: [
        { name: 'sold_on', type: 'date', scale: 0, approximate: false },
        { name: 'channel', type: 'text', scale: 0, approximate: false },
        { name: 'units', type: 'integer', scale: 0, approximate: false },
        { name: 'discount', type: 'decimal', scale: 2, approximate: false },
      ],
      parameters: ['since'],
    });
  });

  it('has its parameters bound, never pasted in', async () => {
    const parameters = [{ name: 'who', type: 'text', value: "x' OR '1'='1" }];
    const text = 'SELECT name FROM warehouse.staff WHERE name = :who';
    const answer = (await agent.post('/api/queries/preview').send(query(text, parameters)).expect(200)).body as QueryPreview;
    expect(answer.rows).toEqual([]);
  });

  it('is refused with the place of its fault', async () => {
    const text = 'SELECT name,\n  nmae FROM warehouse.staff';
    const { detail, about } = await refusal(text);
    expect(detail).toContain('"nmae" does not exist');
    expect(text.slice(about!.position)).toMatch(/^nmae/);
  });

  it.each([
    ['writes', "INSERT INTO warehouse.staff VALUES (1, 'x', 'y') RETURNING 1", /syntax error/],
    ['writes inside', 'WITH gone AS (DELETE FROM warehouse.sales RETURNING 1) SELECT * FROM gone', /only reads|top level/],
    ['makes tables by a function', "SELECT query_to_xml('CREATE TABLE warehouse.t (a int)', true, true, '')", /is not allowed/],
    ['reads passwords of the server', 'SELECT rolpassword FROM pg_authid', /not open to the connection/],
    ['reads files of the server', "SELECT pg_read_file('/etc/passwd')", /not open to the connection/],
    ['stacks statements', 'SELECT 1 AS a; DROP TABLE warehouse.sales', /One query at a time/],
    [
      'closes the bracket around it',
      'SELECT 1 AS a) AS q; DROP TABLE warehouse.sales; SELECT * FROM (SELECT 1 AS a',
      /One query at a time/,
    ],
    ['ends the transaction', 'COMMIT', /ends too early/],
    ['stops in the middle', 'SELECT 1 FROM', /ends too early/],
    ['has two columns of one name', 'SELECT 1 AS a, 2 AS a', /specified more than once|Two columns/],
  ])('that %s is refused in plain words', async (_what, text, words) => {
    // A check does not run what it checks: what only running would refuse is refused then.
    const checked = await agent.post('/api/queries/check').send(query(text));
    const { body } = checked.status === 422 ? checked : await agent.post('/api/queries/preview').send(query(text)).expect(422);
    expect((body as { detail: string }).detail).toMatch(words);
    const { rows } = await warehouse.query<{ n: string }>('SELECT count(*) AS n FROM warehouse.staff');
    expect(Number(rows[0].n)).toBeGreaterThan(400);
  });

  it('is stopped when it runs too long', { timeout: 40_000 }, async () => {
    expect((await refusal('SELECT pg_sleep(60) AS slept')).detail).toContain('longer than 20 seconds');
  });
});

/** Waits for the newest load of a source to end. */
const ended = (source: string): Promise<Load> => loadEnded(agent, source);

async function bringIn(label: string, text: string): Promise<string> {
  const origin = { kind: 'sql', ...query(text) };
  const { source } = (await agent.post('/api/sources').send({ label, origin }).expect(200)).body as { source: string };
  expect(await ended(source)).toMatchObject({ state: 'done', kind: 'import' });
  return source;
}

async function totals(source: string, measures: string[]): Promise<(number | null)[]> {
  const id = source.replaceAll('_', '-');
  const { report, revision } = (await agent.get(`/api/reports/${id}?draft=true`).expect(200)).body as {
    report: { exhibits: object[] };
    revision: number;
  };
  const axis = { fields: [], total: 'always', openLevels: 0, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
  const exhibits = [{ ...report.exhibits[0], side: axis, top: axis, cells: measures.map((measure) => ({ measure })) }];
  await agent
    .put(`/api/reports/${id}`)
    .send({ report: { ...report, exhibits }, revision })
    .expect(200);
  const open = { open: { depth: 0, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
  const window = { from: 0, count: 5 };
  const { body } = await agent
    .post(`/api/reports/${id}/exhibits/table/crosstab`)
    .send({ draft: true, side: open, top: open, rows: window, columns: window })
    .expect(200);
  return (body as CrosstabResponse).cells[0];
}

describe('records that are left where they are', () => {
  it('are asked each time, with the same totals as their database tells, and listed in the order asked for', async () => {
    await warehouse.query(
      `CREATE TABLE warehouse.calls AS SELECT g AS number, date '2026-01-01' + g AS called_on, (ARRAY['Oslo', 'Lyon', NULL])[1 + g % 3] AS city, g * 1.25 AS cost FROM generate_series(1, 90) AS g`,
    );
    await warehouse.query('GRANT SELECT ON warehouse.calls TO PUBLIC');
    const text = 'SELECT number, called_on, city, cost::numeric(10,2) AS cost FROM warehouse.calls WHERE number <= :most; -- all of them';
    const origin = { kind: 'sql', ...query(text, [{ name: 'most', type: 'number', value: '60' }]) };
    const { source } = (await agent.post('/api/sources').send({ label: 'Calls', origin, live: true }).expect(200)).body as {
      source: string;
    };
    const { rows: exists } = await demo.connection.pool.query(`SELECT to_regclass('imported.' || quote_ident($1)) AS gone`, [source]);
    expect(exists).toEqual([{ gone: null }]);
    const total = async (): Promise<number> =>
      Number(
        (await warehouse.query<{ n: string }>('SELECT sum(cost::numeric(10,2)) AS n FROM warehouse.calls WHERE number <= 60')).rows[0].n,
      );
    expect(await totals(source, ['records', 'sum_cost'])).toEqual([60, await total()]);
    // By city and month, each total of its own grouping set.
    const id = source.replaceAll('_', '-');
    const { report, revision } = (await agent.get(`/api/reports/${id}?draft=true`).expect(200)).body as {
      report: { exhibits: { cells: object[] }[] };
      revision: number;
    };
    const axis = (fields: string[]): object => ({
      fields,
      total: 'always',
      openLevels: 0,
      order: { by: 'label', direction: 'asc' },
      hideEmpty: true,
    });
    const exhibits = [{ ...report.exhibits[0], side: axis(['city']), top: axis(['called_on_month']), cells: [{ measure: 'sum_cost' }] }];
    await agent
      .put(`/api/reports/${id}`)
      .send({ report: { ...report, exhibits }, revision })
      .expect(200);
    const open = { open: { depth: 1, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
    const window = { from: 0, count: 20 };
    const answer = (
      await agent
        .post(`/api/reports/${id}/exhibits/table/crosstab`)
        .send({ draft: true, side: open, top: open, rows: window, columns: window })
        .expect(200)
    ).body as CrosstabResponse;
    const { rows } = await warehouse.query<{ city: string | null; month: string | null; n: string; all: number }>(
      `SELECT city, to_char(called_on, 'YYYY-MM') AS month, sum(cost::numeric(10,2)) AS n, grouping(city, to_char(called_on, 'YYYY-MM')) AS all
       FROM warehouse.calls WHERE number <= 60 GROUP BY GROUPING SETS ((1, 2), (1), (2), ())`,
    );
    expect(answer.cells.flat().filter((value) => value !== null)).toHaveLength(rows.length);
    for (const one of rows) {
      const row = answer.rows.items.findIndex(({ role, path }) =>
        one.all & 2 ? role === 'total' : role === 'member' && path[0] === one.city,
      );
      const column = answer.columns.items.findIndex(({ role, path }) =>
        one.all & 1 ? role === 'total' : role === 'member' && path[0] === one.month,
      );
      expect(answer.cells[row][column]).toBe(Number(one.n));
    }
    const members = (await agent.post(`/api/reports/${id}/members`).send({ field: 'city', scope: {}, draft: true }).expect(200)).body as {
      members: { member: string | null; records: number }[];
    };
    expect(members.members.map(({ member, records }) => [member, records])).toEqual([
      ['Lyon', 20],
      ['Oslo', 20],
    ]);
    // What changes there is seen here, once what was known is older than half a minute.
    await warehouse.query('UPDATE warehouse.calls SET cost = cost + 1');
    demo.app.catalogue.forget(id);
    expect(await totals(source, ['sum_cost'])).toEqual([await total()]);
    await agent.post(`/api/sources/${source}/refresh`).send({}).expect(400);
    await warehouse.query('DROP TABLE warehouse.calls');
    demo.app.catalogue.forget(id);
    const gone = await agent.get(`/api/reports/${id}?draft=true`);
    expect(gone.status).toBe(422);
  });
});

describe('a parameter that a prompt fills', () => {
  it('holds what is chosen for its column, one at a time, and its own value while nothing is', async () => {
    const text = `SELECT channel, quantity FROM warehouse.sales WHERE channel = coalesce(:channel, channel)`;
    const origin = { kind: 'sql', ...query(text, [{ name: 'channel', type: 'text', value: '', filledBy: 'channel' }]) };
    const { source } = (await agent.post('/api/sources').send({ label: 'By channel', origin, live: true }).expect(200)).body as {
      source: string;
    };
    const id = source.replaceAll('_', '-');
    const units = async (scope: object, status = 200): Promise<unknown> => {
      const side = { open: { depth: 0, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
      const body = { draft: true, scope, side, top: side, rows: { from: 0, count: 5 }, columns: { from: 0, count: 5 } };
      return (await agent.post(`/api/reports/${id}/exhibits/table/crosstab`).send(body).expect(status)).body;
    };
    await totals(source, ['sum_quantity']);
    const { rows } = await warehouse.query<{ channel: string; n: string }>(
      'SELECT channel, sum(quantity) AS n FROM warehouse.sales WHERE channel IS NOT NULL GROUP BY channel ORDER BY 1',
    );
    const all = rows.reduce((sum, { n }) => sum + Number(n), 0);
    expect(((await units({})) as CrosstabResponse).cells).toEqual([[all]]);
    for (const { channel, n } of rows) expect(((await units({ channel: [channel] })) as CrosstabResponse).cells).toEqual([[Number(n)]]);
    expect(await units({ channel: rows.slice(0, 2).map(({ channel }) => channel) }, 400)).toMatchObject({
      detail: 'By channel is asked for one Channel at a time: choose one.',
    });
    // Another value while nothing is chosen.
    const parameters = [{ name: 'channel', type: 'text', value: rows[0].channel, filledBy: 'channel' }];
    await agent
      .put(`/api/sources/${source}/query`)
      .send({ text, parameters, revision: await revisionOf(source) })
      .expect(200);
    expect(((await units({})) as CrosstabResponse).cells).toEqual([[Number(rows[0].n)]]);
    // A query that no longer answers what is read of it is refused.
    const refused = await agent
      .put(`/api/sources/${source}/query`)
      .send({ text: 'SELECT 1 AS quantity', parameters: [], revision: await revisionOf(source) })
      .expect(409);
    expect(refused.body).toMatchObject({ code: 'source-drifted', detail: expect.stringContaining('“channel” is missing') as string });
  });
});

describe('a watched figure of live records', () => {
  it('is looked at though nothing is loaded, and told when the records there have changed', async () => {
    await warehouse.query('CREATE TABLE warehouse.shelf AS SELECT 10 AS pieces');
    await warehouse.query('GRANT SELECT ON warehouse.shelf TO PUBLIC');
    const origin = { kind: 'sql', ...query('SELECT pieces FROM warehouse.shelf') };
    const made = await agent.post('/api/sources').send({ label: 'Stock', origin, live: true }).expect(200);
    const { source } = made.body as { source: string };
    await totals(source, ['sum_pieces']);
    const id = source.replaceAll('_', '-');
    const { report, revision } = (await agent.get(`/api/reports/${id}?draft=true`).expect(200)).body as ReportView;
    const access = (await agent.get(`/api/datasets/${id}/access`).expect(200)).body as AccessView;
    await agent.put(`/api/datasets/${id}/access`).send({ rules: [], revision: access.revision }).expect(200);
    const indicator = { against: { kind: 'value', value: 5 }, by: 'ratio', onCourse: 1, drifting: 0.5 };
    const strip = {
      kind: 'kpis',
      id: 'strip',
      title: 'Stock',
      kpis: [{ id: 'pieces', label: 'Pieces', measure: 'sum_pieces', indicator, words: '' }],
    };
    const saved = await agent
      .put(`/api/reports/${id}`)
      .send({ report: { ...report, exhibits: [strip] }, revision })
      .expect(200);
    await agent
      .post(`/api/reports/${id}/publish`)
      .send({ revision: (saved.body as { revision: number }).revision })
      .expect(200);
    const watched = { report: id, exhibit: 'strip', watched: { kpi: 'pieces' }, scope: {}, label: 'Pieces', query: {} };
    await agent.post('/api/watches').send(watched).expect(200);
    await demo.app.look();
    await warehouse.query('UPDATE warehouse.shelf SET pieces = 1');
    demo.app.catalogue.forget(id);
    expect(await demo.app.look()).toBe(0);
    // A minute later.
    const now = performance.now();
    const clock = vi.spyOn(performance, 'now').mockImplementation(() => now + 61_000);
    try {
      expect(await demo.app.look()).toBe(1);
    } finally {
      clock.mockRestore();
    }
    const { signals } = (await agent.get('/api/signals').expect(200)).body as Signals;
    expect(signals[0]).toMatchObject({ label: 'Pieces', before: 'on', after: 'off', valueBefore: '10', valueAfter: '1' });
  });
});

describe('a parameter that is called as a prompt', () => {
  it('holds what the prompt stands for: a number, a text, both ends of dates and periods', async () => {
    const text = `SELECT channel, quantity, sold_on FROM warehouse.sales
      WHERE quantity >= :at_least AND channel LIKE coalesce(:name_part, '') || '%'
        AND sold_on BETWEEN coalesce(:sold_from, date '1900-01-01') AND coalesce(:sold_to, date '9999-12-31')`;
    const parameters = [
      { name: 'at_least', type: 'number', value: '1' },
      { name: 'name_part', type: 'text', value: '' },
      { name: 'sold_from', type: 'date', value: '' },
      { name: 'sold_to', type: 'date', value: '' },
    ];
    const origin = { kind: 'sql', ...query(text, parameters) };
    const made = await agent.post('/api/sources').send({ label: 'By prompts', origin, live: true }).expect(200);
    const { source } = made.body as { source: string };
    await totals(source, ['sum_quantity']);
    const id = source.replaceAll('_', '-');
    const { report, revision } = (await agent.get(`/api/reports/${id}?draft=true`).expect(200)).body as ReportView;
    const prompts = [
      { id: 'least', kind: 'number', name: 'at_least', initial: 1 },
      { id: 'part', kind: 'text', name: 'name_part', field: 'channel' },
      { id: 'days', kind: 'dates', name: 'sold', field: 'sold_on' },
    ];
    await agent
      .put(`/api/reports/${id}`)
      .send({ report: { ...report, prompts }, revision })
      .expect(200);
    const units = async (choices: object): Promise<unknown> => {
      const side = { open: { depth: 0, exceptions: [] }, order: null, hideEmpty: true };
      const window = { from: 0, count: 5 };
      const body = { draft: true, scope: {}, choices, side, top: side, rows: window, columns: window };
      return ((await agent.post(`/api/reports/${id}/exhibits/table/crosstab`).send(body).expect(200)).body as CrosstabResponse).cells[0][0];
    };
    const expected = async (condition: string): Promise<number> =>
      Number(
        (await warehouse.query<{ n: string }>(`SELECT sum(quantity) AS n FROM warehouse.sales WHERE channel IS NOT NULL AND ${condition}`))
          .rows[0].n,
      );
    expect(await units({})).toBe(await expected('quantity >= 1'));
    expect(await units({ least: ['3'] })).toBe(await expected('quantity >= 3'));
    expect(await units({ part: ['Show'] })).toBe(await expected(`channel LIKE 'Show%'`));
    expect(await units({ days: ['2025-03-01', '2025-04-30'], least: ['2'] })).toBe(
      await expected(`quantity >= 2 AND sold_on BETWEEN '2025-03-01' AND '2025-04-30'`),
    );
    // What is chosen is a value, never a part of the query.
    expect((await units({ part: ["x' OR true --"] })) ?? null).toBeNull();
  });
});

describe('a join of two tables', () => {
  const check = async (asked: object): Promise<JoinCheck> =>
    (await agent.post(`/api/connections/${WAREHOUSE_CONNECTION}/join-check`).send(asked).expect(200)).body as JoinCheck;
  const sales = { schema: 'warehouse', table: 'sales', column: 'adviser_id' };
  const staff = { toSchema: 'warehouse', toTable: 'staff', key: 'person_id' };

  it('is held against the data: who is named, who is missing, and keys that would count records twice', async () => {
    const { rows } = await warehouse.query<{ named: number; advisers: number }>(
      'SELECT count(adviser_id)::int AS named, count(DISTINCT adviser_id)::int AS advisers FROM warehouse.sales',
    );
    expect(await check({ ...sales, ...staff })).toEqual({ named: rows[0].named, missing: 0, doubled: 0, examples: [] });
    const turned = await check({
      ...{ schema: 'warehouse', table: 'staff', column: 'person_id', toSchema: 'warehouse', toTable: 'sales', key: 'adviser_id' },
    });
    expect(turned.doubled).toBeGreaterThan(0);
    expect(turned.doubled).toBeLessThanOrEqual(rows[0].advisers);
    expect(turned.examples).toHaveLength(5);
    // Columns of different types are held against each other all the same.
    const mixed = await check({ ...sales, column: 'channel', ...staff });
    const { rows: channels } = await warehouse.query<{ n: number }>('SELECT count(channel)::int AS n FROM warehouse.sales');
    expect(mixed).toMatchObject({ named: channels[0].n, missing: channels[0].n });
  });

  it('of what is not there is refused, whatever its name holds', async () => {
    const { body } = await agent
      .post(`/api/connections/${WAREHOUSE_CONNECTION}/join-check`)
      .send({ ...sales, table: 'sales" ; DROP TABLE warehouse.sales; --', ...staff })
      .expect(422);
    expect(body).toMatchObject({ code: 'query-invalid', detail: expect.stringContaining('does not exist') as string });
    expect((await warehouse.query('SELECT FROM warehouse.sales LIMIT 1')).rowCount).toBe(1);
  });
});

describe('digits', () => {
  const columnsOf = async (id: string): Promise<SourceView['columns']> =>
    ((await agent.get('/api/sources').expect(200)).body as SourceView[]).find((one) => one.id === id)!.columns;
  const texts = async (id: string): Promise<string[][]> => {
    const { rows } = await demo.connection.pool.query<Record<string, unknown>>(`SELECT r.* FROM imported."${id}" AS r ORDER BY 1`);
    return rows.map((row) => Object.values(row).map(String));
  };

  it('of doubles and unscaled numbers are all kept, and long identifiers are text', async () => {
    const id = await bringIn(
      'Digits',
      `SELECT * FROM (VALUES (1, 0.00001234::float8, 0.00001234::numeric, 9007199254740993::bigint), (2, 1.5, 2, 9007199254740994)) AS v (n, small, plain, code)`,
    );
    expect((await columnsOf(id)).map(({ column, type, scale }) => [column, type, scale])).toEqual([
      ['n', 'integer', 0],
      ['small', 'decimal', 8],
      ['plain', 'decimal', 8],
      ['code', 'text', 0],
    ]);
    expect(await texts(id)).toEqual([
      ['1', '0.00001234', '0.00001234', '9007199254740993'],
      ['2', '1.50000000', '2.00000000', '9007199254740994'],
    ]);
    expect(await ended(id)).toMatchObject({ state: 'done', message: expect.stringContaining('“Code” is kept as text') as string });
    // The same answer again is no change at the source.
    await agent.post(`/api/sources/${id}/refresh`).send({}).expect(200);
    expect(await ended(id)).toMatchObject({ state: 'done' });
  });

  it('that a later refresh brings widen the column, its datasets too; what cannot be exact stops', async () => {
    await warehouse.query('CREATE TABLE warehouse.prices (item text, price numeric); GRANT SELECT ON warehouse.prices TO PUBLIC');
    await warehouse.query(`INSERT INTO warehouse.prices VALUES ('a', 1.7), ('b', 2.5)`);
    const id = await bringIn('Finer prices', 'SELECT item, price FROM warehouse.prices');
    await warehouse.query(`INSERT INTO warehouse.prices VALUES ('c', 1.749)`);
    await agent.post(`/api/sources/${id}/refresh`).send({}).expect(200);
    expect(await ended(id)).toMatchObject({ state: 'done' });
    expect((await columnsOf(id))[1].scale).toBe(3);
    expect((await texts(id)).map(([, price]) => price)).toEqual(['1.700', '2.500', '1.749']);
    const { dataset } = (await agent.get(`/api/datasets/${id.replaceAll('_', '-')}`).expect(200)).body as {
      dataset: { facts: { fields: { column: string; scale: number }[] }[] };
    };
    expect(dataset.facts[0].fields.find(({ column }) => column === 'price')!.scale).toBe(3);
    await warehouse.query(`INSERT INTO warehouse.prices VALUES ('d', 123456789012345)`);
    await agent.post(`/api/sources/${id}/refresh`).send({}).expect(200);
    expect(await ended(id)).toMatchObject({ state: 'failed', message: expect.stringContaining('needs 18 digits') as string });
    expect(await texts(id)).toHaveLength(3);
    await warehouse.query('DROP TABLE warehouse.prices');
  });

  it('of floating-point numbers beyond what is exact are rounded, and that is told; what is no number is left empty', async () => {
    const id = await bringIn('Floats', `SELECT * FROM (VALUES (0.1::float8 + 0.2::float8), (1.5), ('NaN'), ('Infinity')) AS v (x)`);
    expect(await ended(id)).toMatchObject({
      message: expect.stringMatching(/1 of them were rounded to 12 decimal places.*2 values that are no numbers/) as string,
    });
    const { rows } = await demo.connection.pool.query(`SELECT x::text FROM imported."${id}" ORDER BY 1`);
    expect(rows).toEqual([{ x: '0.300000000000' }, { x: '1.500000000000' }, { x: null }, { x: null }]);
  });
});

describe('a source', () => {
  it('brings in the advisers who grant more discount than the average adviser, with their lead and their lead’s lead', async () => {
    const text = `
      WITH granted AS (
        SELECT adviser_id, sum(discount) / sum(quantity * unit_price) AS rate, sum(discount) AS discount
        FROM warehouse.sales WHERE adviser_id IS NOT NULL GROUP BY adviser_id
      )
      SELECT a.name AS adviser, l.name AS lead, ll.name AS leads_lead, round(g.rate, 4)::numeric(8,4) AS rate, g.discount::numeric(14,2) AS discount
      FROM granted AS g JOIN warehouse.staff AS a ON a.person_id = g.adviser_id
      LEFT JOIN warehouse.staff AS l ON l.person_id = a.lead_id LEFT JOIN warehouse.staff AS ll ON ll.person_id = l.lead_id
      WHERE g.rate > (SELECT avg(rate) FROM granted)`;
    const source = await bringIn('Generous advisers', text);
    const { rows } = await warehouse.query<{ n: number; discount: string }>(
      `SELECT count(*)::int AS n, sum(discount) AS discount FROM (${text}) AS q`,
    );
    expect(rows[0].n).toBeGreaterThan(20);
    expect(await totals(source, ['records', 'sum_discount'])).toEqual([rows[0].n, Number(rows[0].discount)]);
  });

  it('keeps the last good records when its query no longer answers as before, and says what is touched', async () => {
    await warehouse.query(`CREATE TABLE warehouse.stock AS SELECT 'Oslo' AS city, 5 AS pieces UNION ALL SELECT 'Lyon', 7`);
    await warehouse.query(`GRANT SELECT ON warehouse.stock TO PUBLIC`);
    const source = await bringIn('Stock', 'SELECT * FROM warehouse.stock');
    expect(await totals(source, ['records', 'sum_pieces'])).toEqual([2, 12]);
    const refresh = async (choice: object): Promise<Load> => {
      await agent.post(`/api/sources/${source}/refresh`).send(choice).expect(200);
      return ended(source);
    };
    await warehouse.query(`INSERT INTO warehouse.stock VALUES ('Rome', 9)`);
    expect(await refresh({})).toMatchObject({ kind: 'refresh', state: 'done', rows: 3 });
    expect(await totals(source, ['records', 'sum_pieces'])).toEqual([3, 21]);

    await warehouse.query('ALTER TABLE warehouse.stock RENAME pieces TO amount');
    const drift = (await agent.get(`/api/sources/${source}/drift`).expect(200)).body as Drift;
    expect(drift).toMatchObject({ missing: ['pieces'], retyped: [], added: ['amount'] });
    expect(drift.touches.map(({ kind, label }) => `${kind} ${label}`)).toEqual([
      'dataset Stock',
      'measure Pieces, sum',
      'measure Pieces, average',
      'report Stock',
    ]);
    const stopped = await refresh({});
    expect(stopped.state).toBe('stopped');
    expect(stopped.message).toContain('“pieces” is missing, “amount” is new. This touches the dataset Stock');
    expect(await totals(source, ['records', 'sum_pieces'])).toEqual([3, 21]);

    // The analyst says that the new column stands for the missing one.
    await warehouse.query(`UPDATE warehouse.stock SET amount = amount + 1`);
    expect(await refresh({ mapping: { pieces: 'amount' } })).toMatchObject({ state: 'done', rows: 3 });
    expect(await totals(source, ['records', 'sum_pieces'])).toEqual([3, 24]);

    await warehouse.query('ALTER TABLE warehouse.stock ALTER amount TYPE text, ADD place text');
    const retyped = await refresh({ added: 'leave' });
    expect([retyped.state, retyped.message]).toEqual(['stopped', expect.stringContaining('“amount” was integer and is text now')]);
    await warehouse.query('ALTER TABLE warehouse.stock ALTER amount TYPE integer USING amount::integer');
    expect(await refresh({ added: 'take' })).toMatchObject({ state: 'done' });
    const [view] = ((await agent.get('/api/sources').expect(200)).body as SourceView[]).filter(({ id }) => id === source);
    expect(view.columns.map(({ from, column }) => [from, column])).toEqual([
      ['city', 'city'],
      ['amount', 'pieces'],
      ['place', 'place'],
    ]);
    expect(view.datasets.map(({ label }) => label)).toEqual(['Stock']);
    await warehouse.query('DROP TABLE warehouse.stock');
    expect(await refresh({})).toMatchObject({
      state: 'failed',
      message: expect.stringContaining('The last good records stay in use.') as string,
    });
    expect(await totals(source, ['records', 'sum_pieces'])).toEqual([3, 24]);
  });

  it('is cancelled without a trace', async () => {
    const source = await bringIn('Slow', 'SELECT g AS n FROM generate_series(1, 10) AS g');
    await demo.connection.pool.query(
      `UPDATE app.sources SET origin = jsonb_set(origin, '{text}', '"SELECT g AS n FROM generate_series(1, 3000000) AS g"') WHERE id = $1`,
      [source],
    );
    await agent.post(`/api/sources/${source}/refresh`).send({}).expect(200);
    await agent.post(`/api/sources/${source}/refresh`).send({}).expect(400);
    await agent.post(`/api/sources/${source}/cancel`).send({}).expect(200);
    expect(await ended(source)).toMatchObject({ state: 'cancelled', message: 'The last good records stay in use.' });
    const { rows } = await demo.connection.pool.query<{ n: number }>(`SELECT count(*)::int AS n FROM imported."${source}"`);
    expect(rows[0].n).toBe(10);
    expect(await totals(source, ['records', 'sum_n'])).toEqual([10, 55]);
  });

  it('takes a schedule, or says why it is none', async () => {
    const source = await bringIn('Scheduled', 'SELECT 1 AS n');
    await agent
      .put(`/api/sources/${source}/schedule`)
      .send({ schedule: 'tomorrow', revision: await revisionOf(source) })
      .expect(400);
    await agent
      .put(`/api/sources/${source}/schedule`)
      .send({ schedule: '0 5 * * *', revision: await revisionOf(source) })
      .expect(200);
    const views = (await agent.get('/api/sources').expect(200)).body as SourceView[];
    expect(views.find(({ id }) => id === source)!.schedule).toBe('0 5 * * *');
    await agent
      .put(`/api/sources/${source}/schedule`)
      .send({ schedule: null, revision: await revisionOf(source) })
      .expect(200);
  });

  it('takes another query, and goes once nothing stands on it', async () => {
    const source = await bringIn('Numbers', 'SELECT g AS n FROM generate_series(1, 4) AS g');
    const parameters = [{ name: 'most', type: 'number', value: '6' }];
    const text = 'SELECT g AS n FROM generate_series(1, :most::int) AS g';
    await agent
      .put(`/api/sources/${source}/query`)
      .send({ text, parameters, revision: await revisionOf(source) })
      .expect(200);
    expect(await ended(source)).toMatchObject({ kind: 'refresh', state: 'done', rows: 6 });
    expect(await totals(source, ['sum_n'])).toEqual([21]);
    await agent
      .put(`/api/sources/${source}/query`)
      .send({ text: 'SELECT oops', parameters: [], revision: await revisionOf(source) })
      .expect(422);
    await agent
      .put(`/api/sources/${source}/query`)
      .send({ text: 'SELECT 1 AS other', parameters: [], revision: await revisionOf(source) })
      .expect(200);
    expect(await ended(source)).toMatchObject({ state: 'stopped' });
    expect(await totals(source, ['sum_n'])).toEqual([21]);
    const dataset = source.replaceAll('_', '-');
    expect((await agent.delete(`/api/sources/${source}`).expect(409)).body).toMatchObject({ code: 'in-use' });
    expect((await agent.delete(`/api/datasets/${dataset}`).expect(409)).body).toMatchObject({
      detail: expect.stringContaining('Numbers') as string,
    });
    await demo.connection.pool.query('DELETE FROM app.reports WHERE id = $1', [dataset]);
    await agent.delete(`/api/datasets/${dataset}`).expect(200);
    await agent.delete(`/api/sources/${source}`).expect(200);
    const { rows } = await demo.connection.pool.query(`SELECT to_regclass('imported.' || quote_ident($1)) AS gone`, [source]);
    expect(rows).toEqual([{ gone: null }]);
    await agent.get(`/api/sources/${source}/loads`).expect(404);
  });

  it('that was being refreshed when the server was killed is told so at the next start', async () => {
    const source = await bringIn('Killed', 'SELECT 1 AS n');
    await demo.connection.pool.query(`INSERT INTO app.loads (source_id, kind, state) VALUES ($1, 'refresh', 'running')`, [source]);
    await demo.connection.pool.query(`CREATE TABLE staging.left_over (a int); INSERT INTO app.stagings VALUES ('left_over', 1)`);
    await demo.app.begin();
    expect(await ended(source)).toMatchObject({ state: 'failed', message: expect.stringContaining('Nothing was changed') as string });
    const { rows } = await demo.connection.pool.query(`SELECT to_regclass('staging.left_over') AS gone`);
    expect(rows).toEqual([{ gone: null }]);
  });
});
