import type { ControlTotal, DatasetView, MeasureUse } from '@bold-compass/core/api';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { tables } from '../database/index.ts';

/** Control totals: recalculated whenever data or formulas change, and shown only to people with access to the records behind them. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let analyst: Agent;
beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
});
afterAll(() => demo.close());

const C = '/api/datasets/hollin-marsh/control-totals';
const NORDIC = { op: 'in', field: 'region', values: ['Nordic'] };
const pinned = async (): Promise<ControlTotal[]> => (await analyst.get(C).expect(200)).body as ControlTotal[];
const pin = async (part: object): Promise<ControlTotal> =>
  (
    await analyst
      .post(C)
      .send({ measure: 'net_sales', filter: NORDIC, ...part })
      .expect(200)
  ).body as ControlTotal;
const remove = async (id: string): Promise<void> => void (await analyst.delete(`${C}/${id}`).send({}).expect(200));
const untied = async (agent: Agent, report = 'sales-against-target'): Promise<ControlTotal[]> =>
  (await agent.get(`/api/reports/${report}/control-totals`).expect(200)).body as ControlTotal[];
async function nordic(): Promise<string> {
  const { rows } = await demo.connection.pool.query<{ net: string }>(
    `SELECT sum(quantity * unit_price - discount) AS net FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
     WHERE region = 'Nordic' AND status NOT IN ('Cancelled', 'Returned')`,
  );
  return rows[0].net;
}

describe('a control total', () => {
  it('ties out to the cent, as the one of the demo does', async () => {
    expect(await pinned()).toMatchObject([{ measure: 'net_sales', state: 'ties', conditions: ['Year is 2025'], person: 'Ines Calloway' }]);
    expect(await untied(analyst)).toEqual([]);
    const own = await pin({ expected: await nordic(), note: 'Ledger' });
    expect(own).toMatchObject({ state: 'ties', note: 'Ledger', conditions: ['Region is Nordic'] });
    await remove(own.id);
  });

  it('ties out to half of its last digit, and not beyond', async () => {
    const net = await nordic();
    const cents = (added: number): string => (Number(net) + added).toFixed(2);
    const states = new Map<string, string>();
    for (const expected of [Math.round(Number(net)).toString(), cents(0), cents(0.01), cents(-0.01)]) {
      const own = await pin({ expected });
      states.set(expected, own.state);
      if (own.state === 'differs') expect(Math.abs(own.difference!)).toBeCloseTo(0.01, 6);
      await remove(own.id);
    }
    expect([...states.values()]).toEqual(['ties', 'ties', 'differs', 'differs']);
  });

  it('that differs shows on the measure and on reports that use it, with figures only for who sees all', async () => {
    const own = await pin({ expected: '1000.00' });
    const [shown] = await untied(analyst);
    expect(shown).toMatchObject({ id: own.id, state: 'differs', expected: '1000.00' });
    expect(shown.value! - shown.difference!).toBeCloseTo(1000, 6);
    const manager = await demo.as('gareth-penhale');
    expect(await untied(manager)).toEqual([
      { ...shown, conditions: [], expected: '', note: '', value: null, difference: null, reason: '', state: 'differs' },
    ]);
    expect(JSON.stringify(await untied(manager))).not.toContain('Nordic');
    // A measure made of it is shown there.
    expect(await untied(analyst, 'average-order-value')).toHaveLength(1);
    expect(await untied(analyst, 'school-visits')).toEqual([]);
    const uses = (await analyst.get('/api/measures').expect(200)).body as MeasureUse[];
    expect(uses.find(({ name }) => name === 'net_sales')).toMatchObject({ controlTotals: 2, untied: 1 });
    await remove(own.id);
    expect(await untied(analyst)).toEqual([]);
  });

  it('is recalculated when a formula changes', async () => {
    const M = '/api/datasets/hollin-marsh';
    const view = async (): Promise<DatasetView> => (await analyst.get(`${M}/model`).expect(200)).body as DatasetView;
    const applyFormula = async (formula: string): Promise<void> => {
      const { definition, draftRevision } = await view();
      const measures = definition.measures.map((one) => (one.name === 'net_sales' ? { ...one, formula } : one));
      const saved = await analyst
        .put(`${M}/draft`)
        .send({ definition: { ...definition, measures }, revision: draftRevision })
        .expect(200);
      await analyst
        .post(`${M}/apply`)
        .send({ revision: (saved.body as DatasetView).draftRevision })
        .expect(200);
    };
    const before = (await view()).definition.measures.find(({ name }) => name === 'net_sales')!.formula;
    await applyFormula('sum(quantity * unit_price)');
    const [changed] = await untied(analyst);
    expect(changed).toMatchObject({ measure: 'net_sales', state: 'differs' });
    expect(changed.difference).toBeGreaterThan(0);
    await applyFormula(before);
    expect(await untied(analyst)).toEqual([]);
  });

  it('whose measure is gone says so', async () => {
    await demo.connection.db
      .insert(tables.controlTotals)
      .values({ id: 'gone', dataset: 'hollin-marsh', measure: 'gone', filter: null, expected: '1' });
    expect((await pinned()).find(({ id }) => id === 'gone')).toMatchObject({
      state: 'unknown',
      reason: 'There is no measure called "gone" any more.',
    });
    await remove('gone');
    await analyst.delete(`${C}/gone`).send({}).expect(404);
  });

  it.each([
    ['a measure that is none', { measure: 'nothing' }, 422],
    ['a field that is none', { filter: { op: 'eq', field: 'planet', value: 'Mars' } }, 422],
    ['a date that is none', { filter: { op: 'ge', field: 'order_date', value: 'soon' } }, 422],
    ['a slice without records', { filter: { op: 'eq', field: 'region', value: 'Nowhere' } }, 422],
    ['a measure that is a text', { measure: 'rating' }, 422],
    ['no number', { expected: 'a lot' }, 400],
    ['a number with commas', { expected: '1,000' }, 400],
    ['a number of a thousand digits', { expected: '9'.repeat(1000) }, 400],
  ])('of %s is refused', async (_, part, status) => {
    const { body } = await analyst.post(C).send({ measure: 'net_sales', filter: null, expected: '1', ...part });
    expect(body).toMatchObject({ status });
    expect((body as { detail: string }).detail.length).toBeGreaterThan(20);
  });
});
