import { afterAll, beforeAll, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { asApiError, problemOf } from './index.ts';

/** What is said where there is no room: by the database as it says so, and by the disk of the server. */

let demo: DemoApp;
beforeAll(async () => {
  demo = await demoApp();
});
afterAll(() => demo.close());

it('is said in words, whoever has none, and what it did is taken back', async () => {
  const { pool } = demo.connection;
  await pool.query('CREATE TABLE app.trial (number integer)');
  // PostgreSQL's disk_full, Appendix A of its manual.
  const full = `DO $$ BEGIN INSERT INTO app.trial VALUES (1); RAISE EXCEPTION 'could not extend file' USING ERRCODE = '53100'; END $$`;
  const failed: unknown = await pool.query(full).then(
    () => null,
    (error: unknown) => error,
  );
  const { status, code, detail } = problemOf(asApiError(new Error('Failed query', { cause: failed })));
  expect([status, code]).toEqual([507, 'no-space']);
  expect(detail).toMatch(/no space left.*try again/);
  expect((await pool.query('SELECT count(*)::integer AS rows FROM app.trial')).rows).toEqual([{ rows: 0 }]);
  await pool.query('DROP TABLE app.trial');
  expect(asApiError(Object.assign(new Error('write'), { code: 'ENOSPC' })).code).toBe('no-space');
  expect(asApiError(Object.assign(new Error('write'), { code: 'EACCES' })).code).toBe('internal');
});
