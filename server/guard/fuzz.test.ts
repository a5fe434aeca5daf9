import { readdirSync, readFileSync } from 'node:fs';
import { datasetSchema } from '@bold-compass/core/model';
import type { Response } from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { foreignNames } from '../../demo/testing/foreign.ts';
import { openApiDocument } from '../http/openapi.ts';
import { Bodies, randomFrom } from './random-bodies.ts';

/** Whatever is sent to whichever route: a refusal in words or an answer, never a failure, and never long. */

const BODIES_A_ROUTE = 100;
const LONGEST_MILLISECONDS = 5_000;
const SEED = 20261031;

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let expectNothingForeign: (body: unknown) => void;
beforeAll(async () => {
  demo = await demoApp();
  // As a server does that starts: the first question does not wait for the records.
  await demo.app.warm();
  expectNothingForeign = await foreignNames(demo);
});
afterAll(() => demo.close());

const documents = new URL('../../demo/documents/', import.meta.url);
const reports = readdirSync(documents)
  .filter((file) => file !== 'dataset.json')
  .map((file) => JSON.parse(readFileSync(new URL(file, documents), 'utf8')) as { id: string; exhibits: { id: string }[] });
const dataset = datasetSchema.parse(JSON.parse(readFileSync(new URL('dataset.json', documents), 'utf8')));

const WORDS = [
  ...reports.flatMap(({ id, exhibits }) => [id, ...exhibits.map((exhibit) => exhibit.id)]),
  ...dataset.measures.map(({ name }) => name),
  ...dataset.dimensions.flatMap(({ name, levels }) => [name, ...levels.map((level) => level.name)]),
  ...['hollin-marsh', 'warehouse', 'order_lines', 'showrooms', 'ines-calloway', 'sanna-wikmark', 'country', 'Sweden', 'Nordic', 'Atlantic'],
  ...['2026', '2026-Q2', '2025-12', 'Strings', '0 5 * * *', 'SELECT 1 AS n', 'asc', 'desc', '00000000-0000-4000-8000-000000000000'],
];

/** Values for the parts of an address: those that exist, and some that do not. */
const PLACES: Record<string, string[]> = {
  report: [...reports.map(({ id }) => id), 'nothing', '%00', '..%2f..', '%F0%9D%84%9E'],
  exhibit: reports.flatMap(({ exhibits }) => exhibits.map(({ id }) => id)),
  dataset: ['hollin-marsh', 'nothing', '%00'],
  source: ['order_lines', 'showrooms', 'nothing', '%22'],
  connection: ['warehouse', 'nothing'],
  edition: ['1', '2147483648', '99999999999999999999', '0', 'x'],
  dimension: ['territory', 'calendar', 'nothing'],
  import: ['00000000-0000-4000-8000-000000000000', 'nothing'],
};

interface Operation {
  method: 'get' | 'post' | 'put' | 'delete';
  path: string;
  body: { $ref: string } | null;
}
function operations(): { all: Operation[]; components: object } {
  const document = openApiDocument(demo.app.routes) as {
    paths: Record<string, Record<string, { requestBody?: { content: Record<string, { schema: { $ref: string } }> } }>>;
    components: { schemas: object };
  };
  const all = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods).map(([method, { requestBody }]): Operation => {
      const body = requestBody?.content['application/json'].schema ?? null;
      return { method: method as Operation['method'], path, body };
    }),
  );
  return { all, components: document.components.schemas };
}

/** Sends bodies to every operation that is left and hands each answer on. */
async function bombard(agent: Agent, seed: number, hear: (operation: Operation, answer: Response) => void): Promise<number> {
  const { all, components } = operations();
  const random = randomFrom(seed);
  const bodies = new Bodies(components as never, random, WORDS);
  const pick = (values: string[]): string => values[Math.floor(random() * values.length)];
  let sent = 0;
  for (const operation of all) {
    // A session that ends, and the making of thousands of reports, are tried elsewhere.
    if (/\/(session|sessions|demo-session)$/.test(operation.path)) continue;
    // The made-up people of the sign-in page are told to anyone.
    if (operation.path === '/api/demo-people') continue;
    const times = operation.body === null && operation.method === 'get' ? 12 : BODIES_A_ROUTE;
    for (let time = 0; time < times; time++) {
      const path = operation.path.replaceAll(/\{(\w+)\}/g, (_match, name: string) => pick(PLACES[name] ?? ['nothing']));
      const request = agent[operation.method](path);
      const started = performance.now();
      const answer = operation.body
        ? await request.set('content-type', 'application/json').send(JSON.stringify(bodies.value(operation.body)) ?? 'null')
        : await request;
      const took = performance.now() - started;
      sent++;
      const about = `${operation.method} ${path} answered ${answer.status}: ${JSON.stringify(answer.body).slice(0, 300)}`;
      expect(answer.status, about).toBeLessThan(500);
      expect(took, about).toBeLessThan(LONGEST_MILLISECONDS);
      if (answer.status >= 400) expect((answer.body as { detail?: string }).detail, about).toMatch(/\S/);
      hear(operation, answer);
    }
  }
  return sent;
}

describe('every route, with a hundred bodies made from its schema', () => {
  it('refuses or answers a manager, and names nothing of other regions', { timeout: 600_000 }, async () => {
    const sent = await bombard(await demo.as('sanna-wikmark'), SEED, (operation, answer) => {
      // A refusal repeats what was asked for; an answer names only what is theirs, but for views, which are what they wrote.
      if (answer.status >= 400 || operation.path.includes('/views')) return;
      expectNothingForeign(Array.isArray(answer.body) ? answer.body : { ...(answer.body as object), views: [] });
    });
    expect(sent).toBeGreaterThan(3_000);
  });

  it('refuses or answers an analyst', { timeout: 600_000 }, async () => {
    expect(await bombard(await demo.as('ines-calloway'), SEED + 1, () => undefined)).toBeGreaterThan(3_000);
  });
});

describe('documents with parts replaced, taken away or doubled', () => {
  it('are refused in words, or answer', { timeout: 600_000 }, async () => {
    const agent = await demo.as('ines-calloway');
    const random = randomFrom(SEED + 2);
    const bodies = new Bodies({}, random, WORDS);
    let taken = 0;
    for (const report of reports) {
      for (let time = 0; time < 40; time++) {
        const answer = await agent.post('/api/reports/import').send({ report: bodies.mutated(report) });
        expect(answer.status, JSON.stringify(answer.body)).toBeLessThan(500);
        if (answer.status !== 200) continue;
        taken++;
        const { id } = answer.body as { id: string };
        const opened = await agent.get(`/api/reports/${id}?draft=true`);
        expect(opened.status, JSON.stringify(opened.body).slice(0, 300)).toBe(200);
        const { exhibits } = (opened.body as { report: { exhibits: { id: string; kind: string }[] } }).report;
        for (const exhibit of exhibits) {
          const axis = { open: { depth: 1, exceptions: [] }, order: null, hideEmpty: true };
          const window = { from: 0, count: 40 };
          const shown = await agent
            .post(`/api/reports/${id}/exhibits/${encodeURIComponent(exhibit.id)}/${exhibit.kind}`)
            .send({ draft: true, side: axis, top: axis, rows: window, columns: window, order: [], offset: 0, limit: 20 });
          expect(shown.status, JSON.stringify(shown.body).slice(0, 300)).toBeLessThan(500);
        }
        await agent.delete(`/api/reports/${id}`);
      }
    }
    expect(taken).toBeGreaterThan(20);
  });

  it('of datasets are refused, or found wrong, and never applied half', { timeout: 600_000 }, async () => {
    const agent = await demo.as('ines-calloway');
    const bodies = new Bodies({}, randomFrom(SEED + 3), WORDS);
    const path = '/api/datasets/hollin-marsh';
    for (let time = 0; time < 25; time++) {
      const { draftRevision, version } = (await agent.get(`${path}/model`).expect(200)).body as { draftRevision: number; version: number };
      const saved = await agent.put(`${path}/draft`).send({ definition: bodies.mutated(dataset), revision: draftRevision });
      expect(saved.status, JSON.stringify(saved.body)).toBeLessThan(500);
      if (saved.status !== 200) continue;
      for (const part of ['findings', 'joins', 'tables', 'touched', 'dimensions/territory/members']) {
        const answer = await agent.get(`${path}/${part}`);
        expect(answer.status, `${part}: ${JSON.stringify(answer.body).slice(0, 300)}`).toBeLessThan(500);
      }
      const { draftRevision: revision } = saved.body as { draftRevision: number };
      const applied = await agent.post(`${path}/apply`).send({ revision });
      expect(applied.status, JSON.stringify(applied.body).slice(0, 300)).toBeLessThan(500);
      if (applied.status === 200) {
        // What was applied can be worked with; then it is as before.
        const shown = await agent.get('/api/reports/order-lines');
        expect(shown.status).toBeLessThan(500);
        await demo.connection.pool.query(`UPDATE app.datasets SET definition = $1, version = version + 1 WHERE name = 'hollin-marsh'`, [
          dataset,
        ]);
        await new Promise((resolve) => setTimeout(resolve, 1_100));
      } else {
        expect(((await agent.get(`${path}/model`)).body as { version: number }).version).toBe(version);
        await agent.delete(`${path}/draft`).send({ revision });
      }
    }
  });
});
