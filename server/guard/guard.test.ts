import { once } from 'node:events';
import { existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { request as httpRequest } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { CrosstabResponse, DatasetSummary, DatasetView, ImportView, QueryPreview, SourceView } from '@bold-compass/core/api';
import { datasetSchema, type Dataset } from '@bold-compass/core/model';
import pg from 'pg';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, testDatabase, type DemoApp } from '../../demo/testing/database.ts';
import { TEST_SECRET_KEY } from '../../demo/testing/global-setup.ts';
import { importFinished, loadEnded } from '../../demo/testing/waiting.ts';
import { WAREHOUSE_CONNECTION } from '../../demo/warehouse.ts';
import { createApp } from '../app.ts';
import { connect, disconnect, migrateDatabase } from '../database/index.ts';

/** What an outside trial broke, and what must never break again. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let analyst: Agent;
beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
});
afterAll(() => demo.close());

const D = '/api/datasets/hollin-marsh';
const model = async (): Promise<DatasetView> => (await analyst.get(`${D}/model`).expect(200)).body as DatasetView;
const discard = async (): Promise<void> =>
  void (await analyst
    .delete(`${D}/draft`)
    .send({ revision: (await model()).draftRevision })
    .expect(200));

const settled = (view: ImportView): Promise<ImportView> => importFinished(analyst, view);
/** Imports a file as a dataset of its own. */
async function importFile(content: string, label: string, fileName = 'file.csv'): Promise<{ dataset: string; report: string }> {
  const view = await settled(
    (await analyst.post('/api/imports').attach('file', Buffer.from(content), fileName).expect(200)).body as ImportView,
  );
  const plan = { reading: view.reading, columns: view.columns, key: [], choices: {} };
  await settled(
    (
      await analyst
        .post(`/api/imports/${view.id}/stage`)
        .send({ plan, target: { kind: 'dataset', label } })
        .expect(200)
    ).body as ImportView,
  );
  return (await analyst.post(`/api/imports/${view.id}/commit`).send({}).expect(200)).body as { dataset: string; report: string };
}

describe('the application’s own tables', () => {
  /** A definition that reads people as a dimension, in every spelling that a schema might be smuggled in by. */
  const reading = (definition: Dataset, table: string, more: object = {}): Dataset => ({
    ...definition,
    dimensions: [
      ...definition.dimensions,
      {
        ...{ kind: 'table', name: 'secrets', label: 'Secrets', table, key: 'id', attributes: [] },
        levels: [{ name: 'hash', label: 'Hash', plural: 'hashes', column: 'password_hash', type: 'text', scale: 0, labelColumn: 'email' }],
        ...more,
      } as never,
    ],
  });

  it.each([
    ['people', { schema: 'app' }],
    ['app.people', {}],
    ['people" AS t, app."people', {}],
    ['../app/people', {}],
    ['pg_authid', { schema: 'pg_catalog' }],
    ['sessions', { schema: 'app' }],
  ])('cannot be named by a dataset: %s', async (table, more) => {
    const { definition, draftRevision } = await model();
    const saved = await analyst.put(`${D}/draft`).send({ definition: reading(definition, table, more), revision: draftRevision });
    expect(saved.status, JSON.stringify(saved.body)).toBe(422);
    expect(saved.body).toMatchObject({ code: 'dataset-refused' });
  });

  it('are refused by the database too, where the application is wrong', async () => {
    // As if every check above had failed: the definition is in the database already.
    const { definition } = await model();
    await demo.connection.pool.query(
      `UPDATE app.datasets SET draft = $1, draft_revision = draft_revision + 1 WHERE name = 'hollin-marsh'`,
      [reading(definition, 'people', { schema: 'app' })],
    );
    for (const path of ['dimensions/secrets/members', 'findings', 'joins']) {
      const { text } = await analyst.get(`${D}/${path}`);
      expect(text).not.toMatch(/argon2|@hollin-marsh/);
    }
    await discard();
    const { records } = demo.connection;
    for (const table of ['app.people', 'app.sessions', 'app.connections', 'pg_authid', 'staging.anything'])
      await expect(records.query(`SELECT * FROM ${table}`), table).rejects.toMatchObject({
        code: expect.stringMatching(/42501|42P01/) as string,
      });
    await expect(records.query('RESET ROLE; SELECT * FROM app.people')).rejects.toMatchObject({ code: '42501' });
    await expect(records.query('DELETE FROM imported.order_lines')).rejects.toMatchObject({
      code: expect.stringMatching(/25006|42501/) as string,
    });
    expect((await records.query('SELECT count(*) AS n FROM imported.showrooms')).rows).toEqual([{ n: '110' }]);
  });

  it('cannot be read through a connection, whoever it signs in as', async () => {
    const url = new URL(demo.connection.url);
    const form = {
      label: 'Inside',
      host: url.hostname,
      port: Number(url.port),
      user: url.username,
      password: decodeURIComponent(url.password),
    };
    for (const database of [url.pathname.slice(1), 'postgres', 'template1']) {
      const { body } = await analyst
        .post('/api/connections')
        .send({ ...form, database })
        .expect(422);
      expect(body).toMatchObject({ code: 'connection-failed' });
    }
  });
});

describe('tables', () => {
  it('of an import called “Staging” are there after the next start', async () => {
    const { report } = await importFile('staging,n\na,1\nb,2\n', 'Staging area');
    const second = createApp({ connection: connect(demo.connection.url), demo: true, secretKey: TEST_SECRET_KEY });
    await second.begin();
    const agent = supertest.agent(second.express);
    await agent.post('/api/demo-session').send({ person: 'ines-calloway' }).expect(200);
    const window = { from: 0, count: 10 };
    const axis = { open: { depth: 0, exceptions: [] }, order: null, hideEmpty: true };
    const answer = await agent
      .post(`/api/reports/${report}/exhibits/table/crosstab`)
      .send({ draft: true, side: axis, top: axis, rows: window, columns: window })
      .expect(200);
    expect((answer.body as CrosstabResponse).cells.at(-1)![0]).toBe(2);
    await second.close();
  });

  it('that one server fills are not swept away by another that starts', async () => {
    await demo.connection.pool.query('CREATE TABLE staging.going_on (a int); CREATE TABLE staging.left_over (a int)');
    const { rows } = await demo.connection.pool.query<{ objid: string }>(
      `SELECT objid::text FROM pg_locks WHERE locktype = 'advisory' AND database = (SELECT oid FROM pg_database WHERE datname = current_database())`,
    );
    await demo.connection.pool.query(`INSERT INTO app.stagings VALUES ('going_on', $1), ('left_over', 1)`, [rows[0].objid]);
    const second = createApp({ connection: connect(demo.connection.url), demo: true, secretKey: TEST_SECRET_KEY });
    await second.begin();
    await second.close();
    const { rows: left } = await demo.connection.pool.query<{ name: string }>(
      `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'staging'`,
    );
    expect(left).toEqual([{ name: 'going_on' }]);
    await demo.connection.pool.query(`DROP TABLE staging.going_on; DELETE FROM app.stagings`);
  });

  it('that vanished are told at their dataset; the others stand', async () => {
    const { dataset } = await importFile('a,n\nx,1\n', 'Vanishing');
    const source = ((await analyst.get('/api/sources').expect(200)).body as SourceView[]).find(({ label }) => label === 'Vanishing')!;
    await demo.connection.pool.query(`DROP TABLE imported."${source.id}"`);
    await demo.connection.pool.query(`UPDATE app.datasets SET version = version + 1 WHERE name = $1`, [dataset]);
    const listed = (await analyst.get('/api/datasets').expect(200)).body as DatasetSummary[];
    expect(listed.find(({ name }) => name === dataset)!.problem).toContain('not here any more');
    expect(listed.find(({ name }) => name === 'hollin-marsh')!.problem).toBe('');
    expect((await analyst.get(`/api/reports/${dataset}?draft=true`).expect(422)).body).toMatchObject({ code: 'dataset-broken' });
  });

  it('and columns that a draft names must be there before it is applied', async () => {
    const { definition, draftRevision } = await model();
    const facts = definition.facts.map((fact, index) =>
      index === 0 ? { ...fact, fields: fact.fields.map((field, at) => (at === 0 ? { ...field, column: 'nowhere' } : field)) } : fact,
    );
    await analyst
      .put(`${D}/draft`)
      .send({ definition: { ...definition, facts }, revision: draftRevision })
      .expect(200);
    const refused = await analyst
      .post(`${D}/apply`)
      .send({ revision: draftRevision + 1 })
      .expect(422);
    expect(refused.body).toMatchObject({ code: 'dataset-refused', detail: expect.stringContaining('nowhere') as string });
    await discard();
  });
});

describe('answers of other databases', () => {
  const preview = async (text: string): Promise<QueryPreview> =>
    (await analyst.post('/api/queries/preview').send({ connection: WAREHOUSE_CONNECTION, text, parameters: [] }).expect(200))
      .body as QueryPreview;

  it('with a value of half a gigabyte are shown in part, and say so', async () => {
    const { rows, stopped } = await preview(`SELECT repeat('x', 540000000) AS huge, 1 AS n`);
    expect(rows).toEqual([[`${'x'.repeat(2_000)}…`, '1']]);
    expect(stopped).toContain('longer than 2,000 characters');
  });

  it('with many long rows end early, with what was read', async () => {
    const { rows, stopped } = await preview(
      `SELECT ${Array.from({ length: 300 }, (_, n) => `repeat('y', 1900) AS c${n}`).join(', ')} FROM generate_series(1, 100)`,
    );
    expect(rows.length).toBeGreaterThan(0);
    expect(rows.length).toBeLessThan(100);
    expect(stopped).toContain(`only the first ${rows.length}`);
  });

  it('that are too large to import stop with a reason, and leave nothing', async () => {
    const origin = { kind: 'sql', connection: WAREHOUSE_CONNECTION, text: `SELECT repeat('z', 30000000) AS huge`, parameters: [] };
    const { source } = (await analyst.post('/api/sources').send({ label: 'Huge', origin }).expect(200)).body as { source: string };
    expect(await loadEnded(analyst, source)).toMatchObject({ state: 'failed', message: expect.stringContaining('too large') as string });
    expect((await demo.connection.pool.query('SELECT FROM app.stagings')).rowCount).toBe(0);
    await analyst.get('/api/health').expect(200);
  });
});

describe('a database that goes away', () => {
  it('during a commit is a refusal, not the end of the process; nothing is half there, and the same file imports afterwards', async () => {
    const view = await settled(
      (await analyst.post('/api/imports').attach('file', Buffer.from('a,n\nx,1\n'), 'away.csv')).body as ImportView,
    );
    const plan = { reading: view.reading, columns: view.columns, key: [], choices: {} };
    await settled(
      (await analyst.post(`/api/imports/${view.id}/stage`).send({ plan, target: { kind: 'dataset', label: 'Away' } })).body as ImportView,
    );
    const blocker = new pg.Client({ connectionString: demo.connection.url });
    await blocker.connect();
    await blocker.query('BEGIN; LOCK TABLE app.sources IN ACCESS EXCLUSIVE MODE');
    const committing = analyst.post(`/api/imports/${view.id}/commit`).send({});
    const answered = committing.then((response) => response.status);
    for (;;) {
      const { rows } = await blocker.query<{ pid: number }>(`SELECT pid FROM pg_locks WHERE NOT granted LIMIT 1`);
      if (rows.length === 0) {
        await new Promise((resolve) => setTimeout(resolve, 10));
        continue;
      }
      await blocker.query('SELECT pg_terminate_backend($1)', [rows[0].pid]);
      break;
    }
    expect(await answered).toBe(503);
    await blocker.query('ROLLBACK');
    await blocker.end();
    const there = ((await analyst.get('/api/sources').expect(200)).body as SourceView[]).filter(({ label }) => label === 'Away');
    expect(there).toEqual([]);
    await analyst.post(`/api/imports/${view.id}/commit`).send({}).expect(200);
  });

  it('while clients of pools are in use and idle ends none of them', async () => {
    const { pool, records, checks } = demo.connection;
    const held = await Promise.all([pool.connect(), records.connect(), checks.connect()]);
    const killer = new pg.Client({ connectionString: demo.connection.url });
    await killer.connect();
    await killer.query(
      `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid()`,
    );
    await killer.end();
    await new Promise((resolve) => setTimeout(resolve, 100));
    held.forEach((client) => client.release(true));
    await analyst.get('/api/health').expect(200);
  });
});

describe('two servers, two stewards, six publishers', () => {
  it('see what the other changed', async () => {
    const second = createApp({ connection: connect(demo.connection.url), demo: true, secretKey: TEST_SECRET_KEY });
    await second.begin();
    const other = supertest.agent(second.express);
    await other.post('/api/demo-session').send({ person: 'ines-calloway' }).expect(200);
    const labelOn = async (agent: Agent): Promise<string> =>
      ((await agent.get('/api/reports/order-lines').expect(200)).body as { dataset: Dataset }).dataset.label;
    expect(await labelOn(other)).toBe('Hollin & Marsh');
    const { definition, draftRevision } = await model();
    await analyst
      .put(`${D}/draft`)
      .send({ definition: { ...definition, label: 'Renamed' }, revision: draftRevision })
      .expect(200);
    await analyst
      .post(`${D}/apply`)
      .send({ revision: draftRevision + 1 })
      .expect(200);
    await new Promise((resolve) => setTimeout(resolve, 1_100));
    expect(await labelOn(other)).toBe('Renamed');
    await second.close();
  });

  it('at once make one edition each, with the content of their own revision, or are refused', async () => {
    const { report } = await importFile('a,n\nx,1\ny,2\n', 'Published at once');
    const answers = await Promise.all(
      Array.from({ length: 6 }, async (_, number) => {
        const opened = (await analyst.get(`/api/reports/${report}?draft=true`)).body as { report: object; revision: number };
        const saved = await analyst
          .put(`/api/reports/${report}`)
          .send({ report: { ...opened.report, title: `Title ${number}` }, revision: opened.revision });
        if (saved.status !== 200) return null;
        const { revision } = saved.body as { revision: number };
        const published = await analyst.post(`/api/reports/${report}/publish`).send({ note: String(number), revision, open: [report] });
        return published.status === 200 ? { edition: (published.body as { edition: number }).edition, number } : null;
      }),
    );
    const made = answers.filter((one) => one !== null);
    expect(new Set(made.map(({ edition }) => edition)).size).toBe(made.length);
    expect(made.length).toBeGreaterThan(0);
    for (const { edition, number } of made) {
      const { body } = await analyst.get(`/api/reports/${report}/editions/${edition}`).expect(200);
      expect((body as { report: { title: string } }).report.title).toBe(`Title ${number}`);
    }
  });
});

describe('a new dataset', () => {
  it('is seen by nobody but its maker until access is decided, which publishing does', async () => {
    const { dataset, report } = await importFile('shop,n\nOslo,5\n', 'Only mine');
    await demo.connection.pool.query(`UPDATE app.people SET role = 'analyst' WHERE id = 'dario-santoro'`);
    const other = await demo.as('dario-santoro');
    const names = async (agent: Agent): Promise<string[]> =>
      ((await agent.get('/api/datasets').expect(200)).body as DatasetSummary[]).map(({ name }) => name);
    expect(await names(analyst)).toContain(dataset);
    expect(await names(other)).not.toContain(dataset);
    for (const path of [`/api/datasets/${dataset}`, `/api/datasets/${dataset}/model`, `/api/datasets/${dataset}/access`])
      await other.get(path).expect(404);
    await other.get(`/api/reports/${report}?draft=true`).expect(403);
    await other.post('/api/reports').send({ title: 'Peek', folder: '', dataset, layout: 'crosstab' }).expect(403);
    const { revision } = (await analyst.get(`/api/reports/${report}?draft=true`).expect(200)).body as { revision: number };
    const refused = await analyst.post(`/api/reports/${report}/publish`).send({ note: '', revision }).expect(409);
    expect(refused.body).toMatchObject({ code: 'access-undecided', about: { datasets: [dataset] } });
    const audience = (await analyst.get(`/api/reports/${report}/audience`).expect(200)).body as { decided: boolean; people: object[] }[];
    expect(audience).toMatchObject([{ decided: false }]);
    expect(audience[0].people.length).toBeGreaterThan(3);
    await analyst
      .post(`/api/reports/${report}/publish`)
      .send({ note: '', revision, open: [dataset] })
      .expect(200);
    await new Promise((resolve) => setTimeout(resolve, 1_100));
    expect(await names(other)).toContain(dataset);
    await (await demo.as('sanna-wikmark')).get(`/api/reports/${report}`).expect(200);
  });

  it('whose source failed at first is made with a later load', async () => {
    const text = 'SELECT channel, quantity / 0 AS n FROM warehouse.sales LIMIT 10';
    const origin = { kind: 'sql', connection: WAREHOUSE_CONNECTION, text, parameters: [] };
    const { source } = (await analyst.post('/api/sources').send({ label: 'Late', origin }).expect(200)).body as { source: string };
    expect(await loadEnded(analyst, source)).toMatchObject({ state: 'failed' });
    const { revision } = ((await analyst.get('/api/sources').expect(200)).body as SourceView[]).find(({ id }) => id === source)!;
    await analyst
      .put(`/api/sources/${source}/query`)
      .send({ text: text.replace('/ 0', '/ 1'), parameters: [], revision })
      .expect(200);
    expect(await loadEnded(analyst, source)).toMatchObject({ state: 'done' });
    const view = ((await analyst.get('/api/sources').expect(200)).body as SourceView[]).find(({ id }) => id === source)!;
    expect(view.datasets).toEqual([{ name: source.replaceAll('_', '-'), label: 'Late' }]);
  });
});

describe('requests that are odd', () => {
  it.each(['null', 'garbage', 'http://', 'https://elsewhere.example'])('with the origin %s are refused', async (origin) => {
    const { body } = await analyst.post('/api/reports').set('origin', origin).send({}).expect(403);
    expect(body).toMatchObject({ code: 'cross-site' });
  });

  it('with texts that cannot be stored, numbers out of range or broken forms are refused in words', async () => {
    const report = { title: 'a\u0000b', folder: '', dataset: 'hollin-marsh', layout: 'empty' };
    await analyst.post('/api/reports').send(report).expect(400);
    await analyst
      .post('/api/reports')
      .set('content-type', 'application/json')
      .send('{"title":"\\ud800","folder":"","dataset":"hollin-marsh","layout":"empty"}')
      .expect(400);
    await analyst.get('/api/reports/order-lines/editions/99999999999').expect(400);
    await analyst.get('/api/reports/%00').expect(400);
    const url = await analyst.get('/api/reports/%E0%A4%A').expect(400);
    expect((url.body as { detail: string }).detail).toContain('address');
    const json = await analyst.post('/api/reports').set('content-type', 'application/json').send('{"title":').expect(400);
    expect((json.body as { detail: string }).detail).toContain('JSON');
    await analyst.post('/api/imports').set('content-type', 'multipart/form-data').send('x').expect(400);
    await analyst.post('/api/imports').set('content-type', 'multipart/form-data; boundary=b').send('--b\r\nbroken').expect(400);
  });

  it('with words of programs as names, or paths that are none, are refused in words or made names of', async () => {
    const { dataset, report } = await importFile('constructor,__proto__,toString,n\na,b,c,1\nd,e,f,2\n', 'Words of programs');
    const { definition, draftRevision } = (await analyst.get(`/api/datasets/${dataset}/model`).expect(200)).body as DatasetView;
    expect(definition.facts[0].fields.map(({ label }) => label)).toEqual(['constructor', '__proto__', 'toString', 'n']);
    const list = await analyst
      .post(`/api/reports/${report}/values`)
      .send({ draft: true, measures: definition.measures.map(({ name }) => name) });
    expect(list.status).toBe(200);
    for (const name of ['constructor', '__proto__', 'hasOwnProperty']) {
      const [fact, ...others] = definition.facts;
      const [field, ...rest] = fact.fields;
      const renamed = { ...definition, facts: [{ ...fact, fields: [{ ...field, name }, ...rest] }, ...others] };
      const { status, body } = await analyst.put(`/api/datasets/${dataset}/draft`).send({ definition: renamed, revision: draftRevision });
      expect({ status, detail: (body as { detail: string }).detail }).toEqual({
        status: 400,
        detail: expect.stringContaining(name) as string,
      });
    }
    const { revision } = (await analyst.get(`/api/reports/${report}?draft=true`).expect(200)).body as { revision: number };
    for (const path of ['title', 'exhibits/0', '/__proto__/polluted', '/exhibits/constructor/prototype', '/title/0/1', '/nowhere/at/all']) {
      const changes = [{ op: 'add', path, value: 'x' }];
      const { status } = await analyst.patch(`/api/reports/${report}`).send({ changes, revision });
      expect(`${path} ${[400, 409, 422].includes(status)}`).toBe(`${path} true`);
    }
    expect(({} as { polluted?: string }).polluted).toBeUndefined();
  });

  it('with shapes that are nested without end keep what a map reads of them', async () => {
    const deep = (depth: number): string => `${'['.repeat(depth)}1${']'.repeat(depth)}`;
    const ring = '[[0,0],[0,1],[1,1],[0,0]]';
    const feature = (properties: string, coordinates: string): string =>
      `{"type":"FeatureCollection","features":[{"type":"Feature","properties":${properties},"geometry":{"type":"Polygon","coordinates":${coordinates}}}]}`;
    const keep = (text: string) =>
      analyst.post('/api/assets').send({ source: `data:application/geo+json;base64,${Buffer.from(text).toString('base64')}` });
    await keep(feature(`{"name":"A","deep":${deep(5_000)}}`, `[${ring}]`)).expect(200);
    await keep(feature('{"name":"A"}', `[[[0,0,${deep(5_000)}],[0,1],[1,1],[0,0]]]`)).expect(200);
    await keep(feature('{"name":"A"}', deep(5_000))).expect(422);
    await keep(feature('{"name":"A"}', `[${ring}]`)).expect(200);
  });

  it('are answered with what no cache keeps', async () => {
    expect((await analyst.get('/api/reports')).headers['cache-control']).toBe('no-store');
  });

  it('over TLS get secure cookies and strict transport; over plain HTTP neither', async () => {
    const plain = await supertest(demo.app.express)
      .post('/api/demo-session')
      .set('x-forwarded-proto', 'https')
      .send({ person: 'sanna-wikmark' });
    expect(plain.headers['set-cookie'][0]).not.toContain('Secure');
    expect(plain.headers['strict-transport-security']).toBeUndefined();
    const behind = createApp({ connection: connect(demo.connection.url), demo: true, secretKey: TEST_SECRET_KEY, trustProxy: 1 });
    const secure = await supertest(behind.express)
      .post('/api/demo-session')
      .set('x-forwarded-proto', 'https')
      .set('host', 'compass.example')
      .send({ person: 'sanna-wikmark' });
    expect(secure.headers['set-cookie'][0]).toContain('Secure');
    expect(secure.headers['strict-transport-security']).toContain('max-age');
    await behind.close();
  });
});

describe('sessions', () => {
  it('are new with every sign-in, and end everywhere by choice', async () => {
    const [first, second] = [supertest.agent(demo.app.express), supertest.agent(demo.app.express)];
    const before = await first.post('/api/demo-session').send({ person: 'sanna-wikmark' }).expect(200);
    const old = before.headers['set-cookie'][0].split(';')[0];
    await first.post('/api/demo-session').send({ person: 'sanna-wikmark' }).expect(200);
    await supertest(demo.app.express).get('/api/reports').set('cookie', old).expect(401);
    await second.post('/api/demo-session').send({ person: 'sanna-wikmark' }).expect(200);
    await first.delete('/api/sessions').expect(200);
    await first.get('/api/reports').expect(401);
    await second.get('/api/reports').expect(401);
  });

  it('seen through someone else’s eyes change nothing', async () => {
    const seen = { 'x-view-as': 'sanna-wikmark' };
    await analyst.put('/api/reports/order-lines/favourite').set(seen).send({ favourite: true }).expect(403);
    await demo.connection.pool.query(`DELETE FROM app.report_marks WHERE person_id = 'sanna-wikmark'`);
    await analyst.get('/api/reports/order-lines').set(seen).expect(200);
    await new Promise((resolve) => setTimeout(resolve, 50));
    const { rowCount } = await demo.connection.pool.query(`SELECT FROM app.report_marks WHERE person_id = 'sanna-wikmark'`);
    expect(rowCount).toBe(0);
  });
});

describe('uploads', () => {
  const uploaded = (): string[] =>
    readdirSync(tmpdir())
      .filter((name) => name.startsWith(`bold-compass-import-${process.pid}-`))
      .flatMap((name) => readdirSync(join(tmpdir(), name)));
  const descriptors = (): number => readdirSync('/proc/self/fd').length;

  it('keep their names in every script', async () => {
    const { body } = await analyst.post('/api/imports').attach('file', Buffer.from('a\n1\n'), 'Umsätze März.csv').expect(200);
    expect((body as ImportView).fileName).toBe('Umsätze März.csv');
    await analyst.delete(`/api/imports/${(body as ImportView).id}`).expect(200);
  });

  it('that are cut off or refused leave no file and no descriptor', async () => {
    const server = demo.app.express.listen(0);
    await once(server, 'listening');
    const { port } = server.address() as { port: number };
    const signedIn = await supertest(demo.app.express).post('/api/demo-session').send({ person: 'ines-calloway' });
    const cookie = signedIn.headers['set-cookie'][0].split(';')[0];
    const files = uploaded().length;
    const cutOff = async (): Promise<void> => {
      const request = httpRequest({
        ...{ port, method: 'POST', path: '/api/imports' },
        headers: { cookie, 'content-type': 'multipart/form-data; boundary=b', 'content-length': 1_000_000 },
      });
      request.on('error', () => undefined);
      request.write('--b\r\nContent-Disposition: form-data; name="file"; filename="x.csv"\r\n\r\na,b\n1,2\n');
      await new Promise((resolve) => setTimeout(resolve, 30));
      request.destroy();
      await new Promise((resolve) => setTimeout(resolve, 20));
    };
    await cutOff();
    const before = descriptors();
    for (let time = 0; time < 12; time++) await cutOff();
    for (let time = 0; time < 12; time++)
      await analyst.post('/api/imports').attach('file', Buffer.from('PK\u0003\u0004broken'), 'x.csv').expect(422);
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(uploaded()).toHaveLength(files);
    expect(descriptors()).toBeLessThan(before + 6);
    server.close();
    server.closeAllConnections();
  });

  it('without a closing boundary are refused in words', async () => {
    const body = '--b\r\ncontent-disposition: form-data; name="file"; filename="a.csv"\r\ncontent-type: text/csv\r\n\r\na,n\n1,2\n';
    const answer = await analyst.post('/api/imports').set('content-type', 'multipart/form-data; boundary=b').send(body);
    expect(answer.status).toBe(400);
    expect((answer.body as { detail: string }).detail).toMatch(/cut off/);
    expect(uploaded()).toEqual([]);
  });

  it('of servers that were killed are removed at the next start', async () => {
    const left = join(tmpdir(), 'bold-compass-import-2147483646-abcdef');
    mkdirSync(left, { recursive: true });
    const second = createApp({ connection: connect(demo.connection.url), demo: true, secretKey: TEST_SECRET_KEY });
    await second.begin();
    await second.close();
    expect(existsSync(left)).toBe(false);
  });
});

it('column names with signs that mean something to programs come through', async () => {
  const text = `SELECT 1 AS "$'", 2 AS "$&", 3 AS "a""b"`;
  const origin = { kind: 'sql', connection: WAREHOUSE_CONNECTION, text, parameters: [] };
  const { source } = (await analyst.post('/api/sources').send({ label: 'Signs', origin }).expect(200)).body as { source: string };
  expect(await loadEnded(analyst, source)).toMatchObject({ state: 'done' });
  const { rows } = await demo.connection.pool.query(`SELECT * FROM imported."${source}"`);
  expect(Object.values(rows[0] as object)).toEqual(['1', '2', '3']);
});

it('thirty checks at once do not keep a reader waiting for their end', async () => {
  const checks = Array.from({ length: 30 }, () => analyst.get(`${D}/findings`).then(({ status }) => status));
  const manager = await demo.as('sanna-wikmark');
  let ended = 0;
  checks.forEach((check) => void check.then(() => ended++));
  await manager.get('/api/reports/order-lines').expect(200);
  expect(ended).toBeLessThan(30);
  // They have connections of their own, few of them: nobody queues for those of readers.
  expect(demo.connection.checks.totalCount).toBeLessThanOrEqual(3);
  expect(demo.connection.pool.waitingCount).toBe(0);
  expect(new Set(await Promise.all(checks))).toEqual(new Set([200]));
});

it('an installation that is older keeps its datasets: their tables move to the registry', async () => {
  const database = await testDatabase('empty');
  const connection = connect(database.url);
  await migrateDatabase(connection);
  // Back to before: the tables of the demo in a schema of their own, and the migrations from the registry's on not there.
  await connection.pool.query(`
    CREATE SCHEMA hollin_marsh; CREATE TABLE hollin_marsh.things (id integer, price numeric(10,2), day date);
    INSERT INTO hollin_marsh.things VALUES (1, 2.5, '2026-01-31');
    CREATE TABLE imported.staging_0123456789abcdef0123456789abcdef (a int);
    ALTER TABLE app.datasets DROP COLUMN draft_base;
    ALTER TABLE app.sources ADD COLUMN schema_name text NOT NULL DEFAULT 'imported', ADD COLUMN table_name text NOT NULL DEFAULT '';
    DROP TABLE app.assets, app.control_totals, app.measure_changes, app.saved_views, app.watches, app.signals, app.mails, app.tile_server, app.job_files, app.jobs;
    DELETE FROM drizzle.__drizzle_migrations
    WHERE created_at >= (SELECT created_at FROM drizzle.__drizzle_migrations ORDER BY created_at OFFSET 5 LIMIT 1)`);
  await migrateDatabase(connection);
  const { rows } = await connection.records.query('SELECT id, price::text, day::text FROM imported.things');
  expect(rows).toEqual([{ id: 1, price: '2.50', day: '2026-01-31' }]);
  const registered = await connection.pool.query<{ id: string; columns: { type: string; scale: number }[] }>(
    'SELECT id, columns FROM app.sources',
  );
  expect(registered.rows).toMatchObject([
    { id: 'things', columns: [{ type: 'integer' }, { type: 'decimal', scale: 2 }, { type: 'date' }] },
  ]);
  const left = await connection.pool.query(
    `SELECT table_name FROM information_schema.tables WHERE table_schema IN ('imported', 'hollin_marsh')`,
  );
  expect(left.rows).toEqual([{ table_name: 'things' }]);
  await disconnect(connection);
  await database.drop();
});

it('documents of the demo name registered tables and no schema', () => {
  const document = readFileSync(new URL('../../demo/documents/dataset.json', import.meta.url), 'utf8');
  expect(document).not.toContain('"schema"');
  expect(datasetSchema.safeParse(JSON.parse(document)).success).toBe(true);
});
