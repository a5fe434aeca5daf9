import { setTimeout as wait } from 'node:timers/promises';
import { connect, migrateDatabase, tables, type Connection } from '@bold-compass/server/database';
import { pino } from 'pino';
import { afterEach, beforeAll, afterAll, describe, expect, it } from 'vitest';
import { testDatabase, type TestDatabase } from '../../demo/testing/database.ts';
import { until } from '../../demo/testing/waiting.ts';
import { ApiError } from '../problems/index.ts';
import { Jobs, type Job, type JobWork } from './index.ts';

/** One queue for several servers: each job is done once, whatever becomes of who does it. */
let database: TestDatabase;
let connection: Connection;
const open: Jobs[] = [];
beforeAll(async () => {
  database = await testDatabase('empty');
  connection = connect(database.url);
  await migrateDatabase(connection);
  await connection.db
    .insert(tables.people)
    .values(['ann', 'ben'].map((id) => ({ id, name: id, email: `${id}@example.org`, role: 'manager' as const, passwordHash: '' })));
});
afterEach(async () => {
  await Promise.all(open.splice(0).map((jobs) => jobs.close()));
  await connection.db.delete(tables.jobs);
});
afterAll(async () => {
  await connection.pool.end();
  await database.drop();
});

const file = (text: string) => ({ file: { name: 'a.txt', type: 'text/plain', bytes: new TextEncoder().encode(text) }, outcome: '1 word' });
/** A server that takes up jobs of a kind. */
function server(work: JobWork, kind = 'write'): Jobs {
  const jobs = new Jobs(connection, { [kind]: work }, pino({ level: 'silent' }));
  open.push(jobs);
  jobs.begin();
  return jobs;
}
const only = async (jobs: Jobs, owner = 'ann'): Promise<Job> => (await jobs.of(owner, 'write'))[0];
const isOver = (jobs: Jobs) => async () => !['queued', 'active'].includes((await only(jobs)).state);

describe('a job', () => {
  it('is done once however many servers there are, with its file for its owner alone', async () => {
    let times = 0;
    const work: JobWork = async (input, { owner }) => {
      times++;
      await wait(50);
      return file(`${owner} ${JSON.stringify(input)}`);
    };
    const [jobs] = [server(work), server(work), server(work)];
    const id = await jobs.add('write', 'ann', { a: 1 });
    await until(isOver(jobs));
    expect(times).toBe(1);
    expect(await only(jobs)).toMatchObject({ id, state: 'done', progress: 1, outcome: '1 word', size: 11, file: 'a.txt', attempts: 1 });
    expect(new TextDecoder().decode((await jobs.file('ann', id)).file.bytes)).toBe('ann {"a":1}');
    await expect(jobs.file('ben', id)).rejects.toMatchObject({ code: 'not-found' });
    await expect(jobs.cancel('ben', id)).rejects.toMatchObject({ code: 'not-found' });
    await expect(jobs.remove('ben', id)).rejects.toMatchObject({ code: 'not-found' });
    expect(await jobs.of('ben', 'write')).toEqual([]);
    expect(await jobs.of('ann', 'other')).toEqual([]);
    await jobs.remove('ann', id);
    await expect(jobs.file('ann', id)).rejects.toMatchObject({ code: 'not-found' });
  });

  it('of many is each done once, in the order in which they came', async () => {
    const done: number[] = [];
    const work: JobWork = (input) => {
      done.push(input as number);
      return Promise.resolve(file(''));
    };
    const waiting = new Jobs(connection, {}, pino({ level: 'silent' }));
    for (const person of ['ann', 'ben']) for (let at = 0; at < 5; at++) await waiting.add('write', person, person === 'ann' ? at : at + 5);
    const jobs = server(work);
    await until(async () =>
      [...(await jobs.of('ann', 'write')), ...(await jobs.of('ben', 'write'))].every(({ state }) => state === 'done'),
    );
    expect(done).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8, 9]);
  });

  it('says why it failed in the words of a person, and keeps what went wrong inside to itself', async () => {
    const jobs = server((input) =>
      Promise.reject(input === 'told' ? new ApiError('too-large', 'Take less.') : new Error('secret of the server')),
    );
    await jobs.add('write', 'ann', 'told');
    await until(isOver(jobs));
    expect(await only(jobs)).toMatchObject({ state: 'failed', problem: 'Take less.', size: null });
    await jobs.add('write', 'ann', 'other');
    await until(isOver(jobs));
    expect((await only(jobs)).problem).toMatch(/noted/);
    expect((await only(jobs)).problem).not.toMatch(/secret/);
  });

  it('tells how far it is, and is cancelled: its work is ended and nothing of it stays', async () => {
    let ended = false;
    const work: JobWork = async (_input, { signal, progress }) => {
      progress(0.4);
      progress(0.3);
      await wait(60_000, undefined, { signal }).catch(() => (ended = true));
      return file('too late');
    };
    const jobs = server(work);
    const id = await jobs.add('write', 'ann', {});
    await until(async () => (await only(jobs)).progress > 0);
    expect((await only(jobs)).progress).toBeCloseTo(0.4);
    await jobs.cancel('ann', id);
    await until(() => ended);
    expect(await only(jobs)).toMatchObject({ state: 'cancelled', size: null });
    await expect(jobs.file('ann', id)).rejects.toMatchObject({ code: 'not-found' });
    // What is over is not cancelled any more.
    await connection.db.update(tables.jobs).set({ state: 'done' });
    await jobs.cancel('ann', id);
    expect(await only(jobs)).toMatchObject({ state: 'done' });
  });

  it('that is cancelled on another server than does it ends there', async () => {
    let ended = false;
    const doing = server(async (_input, { signal }) => {
      await wait(60_000, undefined, { signal }).catch(() => (ended = true));
      return file('too late');
    });
    const asking = new Jobs(connection, {}, pino({ level: 'silent' }));
    const id = await asking.add('write', 'ann', {});
    await until(async () => (await only(doing)).state === 'active');
    await asking.cancel('ann', id);
    await until(() => ended);
    expect(await only(doing)).toMatchObject({ state: 'cancelled', size: null });
  });

  it('whose server was killed is taken up by another one', async () => {
    const jobs = server(() => Promise.resolve(file('the second')));
    await connection.pool.query(
      `INSERT INTO app.jobs (id, kind, owner_id, input, state, attempts, lease_until, kept_until)
       VALUES ('lost', 'write', 'ann', '{}', 'active', 1, now() - interval '1 second', now() + interval '1 day'),
              ('held', 'write', 'ann', '{}', 'active', 1, now() + interval '1 minute', now() + interval '1 day')`,
    );
    const state = async (id: string) => (await jobs.of('ann', 'write')).find((job) => job.id === id);
    await until(async () => (await state('lost'))?.state === 'done');
    expect(await state('lost')).toMatchObject({ attempts: 2 });
    expect(await state('held')).toMatchObject({ state: 'active', attempts: 1 });
  });

  it('that another server took up in the meantime is not ended by the first, however late it is', async () => {
    let release: () => void = () => undefined;
    const released = new Promise<void>((resolve) => (release = resolve));
    const first = server(async () => {
      await released;
      return file('late');
    });
    const id = await first.add('write', 'ann', {});
    await until(async () => (await only(first)).state === 'active');
    await connection.pool.query(`UPDATE app.jobs SET attempts = attempts + 1, lease_until = now() + interval '1 minute' WHERE id = $1`, [
      id,
    ]);
    release();
    await first.close();
    expect(await only(first)).toMatchObject({ state: 'active', attempts: 2, size: null });
  });

  it('that ended its servers again and again is given up, and says so', async () => {
    await connection.pool.query(
      `INSERT INTO app.jobs (id, kind, owner_id, input, state, attempts, lease_until, kept_until)
       VALUES ('deadly', 'write', 'ann', '{}', 'active', 3, now() - interval '1 second', now() + interval '1 day'),
              ('old', 'write', 'ann', '{}', 'done', 1, null, now() - interval '1 second')`,
    );
    const jobs = server(() => Promise.resolve(file('')));
    await until(async () => (await only(jobs)).state === 'failed');
    expect((await only(jobs)).problem).toMatch(/given up/);
    // What is kept no longer is gone, not only hidden.
    await until(async () => (await connection.db.$count(tables.jobs)) === 1);
  });

  it('of a server that is closed goes on elsewhere', async () => {
    const first = server(async (_input, { signal }) => {
      await wait(60_000, undefined, { signal });
      return file('the first');
    });
    const id = await first.add('write', 'ann', {});
    await until(async () => (await only(first)).state === 'active');
    await first.close();
    expect(await only(first)).toMatchObject({ state: 'queued' });
    const second = server(() => Promise.resolve(file('the second')));
    await until(isOver(second));
    expect(new TextDecoder().decode((await second.file('ann', id)).file.bytes)).toBe('the second');
  });

  it('is kept with the last of its person only', async () => {
    await connection.pool.query(
      `INSERT INTO app.jobs (id, kind, owner_id, input, state, created_at, kept_until)
       SELECT 'old ' || n, 'write', CASE WHEN n = 30 THEN 'ben' ELSE 'ann' END, '{}', 'done', now() - n * interval '1 minute', now() + interval '1 day'
       FROM generate_series(1, 30) AS n`,
    );
    const waiting = new Jobs(connection, {}, pino({ level: 'silent' }));
    await waiting.add('write', 'ann', {});
    const kept = await waiting.of('ann', 'write');
    expect(kept).toHaveLength(20);
    expect(kept.slice(1).map(({ id }) => id)).toEqual(Array.from({ length: 19 }, (_, at) => `old ${at + 1}`));
    expect(await waiting.of('ben', 'write')).toHaveLength(1);
  });

  it('waits with few others of its person, also where all are asked for at once', async () => {
    const waiting = new Jobs(connection, {}, pino({ level: 'silent' }));
    const added = await Promise.allSettled(Array.from({ length: 12 }, () => waiting.add('write', 'ann', {})));
    expect(added.filter(({ status }) => status === 'fulfilled')).toHaveLength(5);
    await expect(waiting.add('write', 'ann', {})).rejects.toMatchObject({ code: 'too-many-tries' });
    await waiting.add('write', 'ben', {});
  });
});
