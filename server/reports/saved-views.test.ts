import type { ReportView, SavedView } from '@bold-compass/core/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';

/** Views that people keep of reports: their own, one of them the start. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let manager: Agent;
beforeAll(async () => {
  demo = await demoApp();
  manager = await demo.as('sanna-wikmark');
});
afterAll(() => demo.close());

const R = '/api/reports/sales-against-target';
const save = async (name: string, part: object = {}, who = manager): Promise<SavedView[]> =>
  (
    await who
      .put(`${R}/views`)
      .send({ name, query: { country: ['Sweden'] }, ...part })
      .expect(200)
  ).body as SavedView[];
const kept = async (who: Agent): Promise<SavedView[]> => ((await who.get(R).expect(200)).body as ReportView).views;

describe('views', () => {
  it('are kept by name, replaced by name, and nobody else sees them', async () => {
    await save('Sweden');
    await save('Norway', { query: { country: ['Norway'], 'territory.side': ['1'] } });
    expect((await kept(manager)).map(({ name }) => name)).toEqual(['Norway', 'Sweden']);
    const [, again] = await save('Sweden', { query: { country: ['Sweden', 'Norway'] } });
    expect(again.query).toEqual({ country: ['Sweden', 'Norway'] });
    expect(await kept(await demo.as('gareth-penhale'))).toEqual([]);
  });

  it('have one start at most, whoever saves at once', async () => {
    await Promise.all(['a', 'b', 'c', 'd'].map((name) => save(name, { isStart: true })));
    expect((await kept(manager)).filter(({ isStart }) => isStart)).toHaveLength(1);
    await save('Sweden', { isStart: true });
    expect((await kept(manager)).filter(({ isStart }) => isStart).map(({ name }) => name)).toEqual(['Sweden']);
  });

  it('go by id, and only with who keeps them', async () => {
    const [own] = await kept(manager);
    const other = await demo.as('gareth-penhale');
    await other.delete(`${R}/views/${own.id}`).send({}).expect(404);
    const { body } = await manager.delete(`${R}/views/${own.id}`).send({}).expect(200);
    expect((body as SavedView[]).map(({ id }) => id)).not.toContain(own.id);
    await manager.delete(`${R}/views/${own.id}`).send({}).expect(404);
  });

  it.each([
    ['without a name', { name: ' ' }, 400],
    ['with a name that is too long', { name: 'x'.repeat(81) }, 400],
    ['that hold too much', { query: { country: Array.from({ length: 3000 }, () => 'x'.repeat(60)) } }, 400],
    ['that are no addresses', { query: { country: [{ op: 'x' }] } }, 400],
  ])('%s are refused', async (_, part, status) => {
    const { body } = await manager.put(`${R}/views`).send({ name: 'Trial', query: {}, ...part });
    expect(body).toMatchObject({ status });
  });

  it('of a report that is not there are refused', async () => {
    await manager.put('/api/reports/nothing/views').send({ name: 'x', query: {} }).expect(404);
  });
});
