import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { asApiError } from '../problems/index.ts';
import { openApiDocument } from './openapi.ts';
import { ApiError, problemCodes, problemOf } from '../problems/index.ts';

let demo: DemoApp;
beforeAll(async () => {
  demo = await demoApp();
});
afterAll(() => demo.close());

const credentials = { email: 'Henrike.Hollin@hollin-marsh.example', password: 'compass-demo' };

describe('signing in', () => {
  it('works with email and password, by an http-only cookie that other sites cannot send', async () => {
    const answer = await request(demo.app.express).post('/api/session').send(credentials).expect(200);
    expect(answer.body).toMatchObject({ person: { name: 'Henrike Hollin', role: 'manager' } });
    expect(answer.get('Set-Cookie')![0]).toMatch(/^bold_compass_session=[\w-]{43}; Path=\/; HttpOnly; SameSite=Lax$/);
    expect(JSON.stringify(answer.body)).not.toContain('argon2');
  });

  it('fails alike for a wrong password and an unknown person', async () => {
    const wrong = await request(demo.app.express)
      .post('/api/session')
      .send({ ...credentials, password: 'guess' })
      .expect(401);
    const unknown = await request(demo.app.express)
      .post('/api/session')
      .send({ ...credentials, email: 'nobody@example.org' })
      .expect(401);
    expect(wrong.body).toEqual(unknown.body);
    expect(wrong.body).toMatchObject({ code: 'sign-in-failed' });
  });

  it('keeps passwords as argon2id hashes and session tokens as digests', async () => {
    const { rows } = await demo.connection.pool.query<{ password_hash: string }>('SELECT password_hash FROM app.people');
    expect(rows.every((row) => row.password_hash.startsWith('$argon2id$'))).toBe(true);
    const answer = await request(demo.app.express).post('/api/session').send(credentials);
    const token = /=([\w-]+);/.exec(answer.get('Set-Cookie')![0])![1];
    const stored = await demo.connection.pool.query('SELECT 1 FROM app.sessions WHERE token_hash = $1', [token]);
    expect(stored.rowCount).toBe(0);
  });

  it('ends at once when signing out, and by time when a session expires', async () => {
    const agent = await demo.as('henrike-hollin');
    await agent.get('/api/reports').expect(200);
    await agent.delete('/api/session').expect(200);
    expect((await agent.get('/api/reports').expect(401)).body).toMatchObject({ code: 'signed-out' });

    const late = await demo.as('sanna-wikmark');
    await demo.connection.pool.query(`UPDATE app.sessions SET expires_at = now() - interval '1 minute' WHERE person_id = 'sanna-wikmark'`);
    await new Promise((resolve) => setTimeout(resolve, 2_100));
    expect((await late.get('/api/reports').expect(401)).body).toMatchObject({ code: 'signed-out' });
  });

  it('slows down whoever tries many passwords of one account, also at once, and lets the right one in', async () => {
    const attempt = (password: string) =>
      request(demo.app.express)
        .post('/api/session')
        .send({ ...credentials, password });
    const started = performance.now();
    const wrong = Array.from({ length: 12 }, (_, tries) => attempt(`guess ${tries}`).expect(401));
    await Promise.all([...wrong, attempt(credentials.password).expect(200)]);
    // The eleventh waits for a second, the twelfth for two more.
    expect(performance.now() - started).toBeGreaterThan(3_000);
  });

  it('refuses whoever tries passwords of many accounts', async () => {
    let status = 0;
    for (let tries = 0; tries < 120 && status !== 429; tries++) {
      status = (
        await request(demo.app.express)
          .post('/api/session')
          .send({ email: `${tries}@guess.example`, password: 'guess' })
      ).status;
    }
    expect(status).toBe(429);
  });

  it('lets nobody in through the demo who is not offered there', async () => {
    await demo.connection.pool.query(`UPDATE app.people SET demo_position = NULL WHERE id = 'tobias-renn'`);
    await request(demo.app.express).post('/api/demo-session').send({ person: 'tobias-renn' }).expect(401);
  });
});

describe('requests from elsewhere', () => {
  it.each([[{ 'sec-fetch-site': 'cross-site' }], [{ origin: 'https://elsewhere.example' }]])('are refused: %o', async (headers) => {
    const agent = await demo.as('henrike-hollin');
    expect((await agent.post('/api/reports/order-lines/members').set(headers).send({ field: 'city' }).expect(403)).body).toMatchObject({
      code: 'cross-site',
    });
  });

  it('get a strict content security policy and no clues', async () => {
    const { headers } = await request(demo.app.express).get('/api/session').expect(200);
    expect(headers['content-security-policy']).toContain("default-src 'self'");
    expect(headers['content-security-policy']).not.toContain('unsafe');
    expect(headers['x-powered-by']).toBeUndefined();
  });
});

describe('problems', () => {
  it('have a code, a status and a title each', () => {
    for (const code of problemCodes) {
      const problem = problemOf(new ApiError(code, 'What to do.'));
      expect(problem.status).toBeGreaterThanOrEqual(400);
      expect(problem).toMatchObject({ type: `urn:bold-compass:problem:${code}`, code, detail: 'What to do.' });
    }
  });

  it('tell nothing of unforeseen errors', () => {
    expect(asApiError(new Error('password=secret')).message).not.toContain('secret');
    expect(asApiError(new Error('x')).code).toBe('internal');
  });

  it.each([['ECONNREFUSED'], ['57P01'], ['08006'], ['53300']])('know that %s means the database is away', (code) => {
    const wrapped = new Error('Failed query', { cause: Object.assign(new Error('x'), { code }) });
    expect(asApiError(wrapped).code).toBe('database-unreachable');
  });

  it('are given for addresses that are none', async () => {
    expect((await request(demo.app.express).get('/api/nothing').expect(404)).body).toMatchObject({ code: 'not-found' });
  });
});

describe('the OpenAPI document', () => {
  it('names every route with its answer', () => {
    const document = openApiDocument(demo.app.routes);
    const { paths, openapi } = document as {
      openapi: string;
      paths: Record<string, Record<string, { responses: Record<string, unknown> }>>;
    };
    expect(openapi).toBe('3.1.0');
    for (const route of demo.app.routes) {
      const operation = paths[`/api${route.path.replaceAll(/:(\w+)/g, '{$1}')}`][route.method];
      expect(Object.keys(operation.responses).sort()).toEqual(['200', 'default']);
    }
    // Every reference leads somewhere.
    const text = JSON.stringify(document);
    const references = new Set([...text.matchAll(/"\$ref":"([^"]+)"/g)].map(([, reference]) => reference));
    expect(references.size).toBeGreaterThan(20);
    for (const reference of references) {
      const found = reference
        .slice(2)
        .split('/')
        .reduce<unknown>((node, part) => (node as Record<string, unknown> | undefined)?.[part], document);
      expect(found, reference).toBeDefined();
    }
  });
});
