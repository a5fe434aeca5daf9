import type { Mail, Signals, Watch } from '@bold-compass/core/api';
import { datasetSchema } from '@bold-compass/core/model';
import { createApp } from '@bold-compass/server/app';
import { connect } from '@bold-compass/server/database';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { TEST_SECRET_KEY } from '../../demo/testing/global-setup.ts';

/** A watched figure that changes its state is told once, to whom it concerns, with the state before and after. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let sanna: Agent;
let henrike: Agent;
beforeAll(async () => {
  demo = await demoApp();
  [sanna, henrike] = [await demo.as('sanna-wikmark'), await demo.as('henrike-hollin')];
});
afterAll(() => demo.close());

const definition = datasetSchema.parse(JSON.parse(readFileSync(new URL('../../demo/documents/dataset.json', import.meta.url), 'utf8')));
/** Targets become so many times what they were, as another server would bring them. */
async function setTargets(factor: number): Promise<void> {
  const measures = definition.measures.map((measure) =>
    measure.name === 'target' ? { ...measure, formula: `sum(target_revenue) * ${factor}` } : measure,
  );
  await demo.connection.pool.query(`UPDATE app.datasets SET definition = $1, version = version + 1 WHERE name = 'hollin-marsh'`, [
    { ...definition, measures },
  ]);
}

const KPI = { report: 'sales-against-target', exhibit: 'key-figures', watched: { kpi: 'net-sales' } };
const CELL = {
  report: 'where-are-we-drifting',
  exhibit: 'countries',
  watched: { side: ['Nordic', 'Sweden'], top: [], measure: 'attainment' },
};
const SCOPE = { scope: { year: ['2026'] } };
const watch = (agent: Agent, what: object, label: string) =>
  agent.post('/api/watches').send({ ...what, ...SCOPE, label, query: { year: ['2026'] } });
const signalsOf = async (agent: Agent): Promise<Signals> => (await agent.get('/api/signals').expect(200)).body as Signals;

describe('a watched figure', () => {
  it('is one that is there, and judged by itself', async () => {
    await watch(sanna, { ...KPI, watched: { kpi: 'nothing' } }, 'Nothing').expect(422);
    await watch(sanna, { ...KPI, exhibit: 'nothing' }, 'Nothing').expect(404);
    await watch(sanna, { ...KPI, report: 'nothing' }, 'Nothing').expect(404);
    await watch(sanna, { ...CELL, watched: { ...CELL.watched, measure: 'net_sales' } }, 'Not judged').expect(422);
    await watch(sanna, { ...CELL, watched: { ...CELL.watched, side: ['Atlantic', 'Ireland'] } }, 'Not theirs').expect(422);
    expect((await signalsOf(sanna)).watches).toEqual([]);
  });

  it('is watched once, however often it is asked for', async () => {
    await watch(sanna, KPI, 'Net sales').expect(200);
    const { body } = await watch(sanna, KPI, 'Net sales').expect(200);
    expect(body as Watch[]).toHaveLength(1);
    await watch(sanna, CELL, 'Attainment, Sweden').expect(200);
    await watch(henrike, KPI, 'Net sales').expect(200);
    expect(await demo.app.look()).toBe(0);
  });

  it('is told when it changes its state: once, also by two servers, and to each as they see it', async () => {
    await setTargets(2);
    const connection = connect(demo.connection.url);
    const other = createApp({ connection, demo: true, secretKey: TEST_SECRET_KEY });
    const raised = await Promise.all([demo.app.look(), other.look()]);
    await other.close();
    expect(raised[0] + raised[1]).toBe(3);
    expect(await demo.app.look()).toBe(0);
    const { signals, unseen, watches } = await signalsOf(sanna);
    expect(unseen).toBe(2);
    expect(signals.map(({ label, after, isNew }) => ({ label, after, isNew }))).toEqual(
      expect.arrayContaining([
        { label: 'Net sales', after: 'off', isNew: true },
        { label: 'Attainment, Sweden', after: 'off', isNew: true },
      ]),
    );
    expect(watches.map(({ state }) => state)).toEqual(['off', 'off']);
    const [own, theirs] = [signals, (await signalsOf(henrike)).signals].map((all) => all.find(({ label }) => label === 'Net sales')!);
    // Nordic alone is less than everything.
    expect(own.valueAfter).not.toBe(theirs.valueAfter);
    expect(own).toMatchObject({ title: 'Sales against target by territory', query: { year: ['2026'] } });
    expect(own.before).not.toBe('off');
    expect(signals.find(({ label }) => label === 'Attainment, Sweden')!.title).toBe('Where are we drifting?');
  });

  it('sends a letter to the simulated mail box, to its own address', async () => {
    const { body } = await sanna.get('/api/mailbox').expect(200);
    const letters = body as Mail[];
    expect(letters).toHaveLength(2);
    expect(letters.every(({ to }) => to === 'sanna.wikmark@hollin-marsh.example')).toBe(true);
    expect(letters.find(({ subject }) => subject === 'Net sales: off course')!.text).toMatch(
      /^Net sales in “Sales against target by territory” was .+ \(€.+\) and is off course now \(€.+\)\.$/,
    );
  });

  it('is seen, and then new no more', async () => {
    await sanna.post('/api/signals/seen').send({}).expect(200);
    const { signals, unseen } = await signalsOf(sanna);
    expect(unseen).toBe(0);
    expect(signals.every(({ isNew }) => !isNew)).toBe(true);
    expect((await signalsOf(henrike)).unseen).toBe(1);
  });

  it('is told again when it comes back', async () => {
    await setTargets(0.5);
    expect(await demo.app.look()).toBe(3);
    const [{ before, after }] = (await signalsOf(sanna)).signals;
    expect([before, after]).toEqual(['off', 'on']);
  });

  it('that is not theirs any more stays silent, and says why where it is listed', async () => {
    await demo.connection.pool.query(`UPDATE app.access_rules SET members = '["Atlantic"]' WHERE members::text LIKE '%Nordic%'`);
    await demo.app.look();
    const sweden = (await signalsOf(sanna)).watches.find(({ label }) => label === 'Attainment, Sweden')!;
    expect(sweden.problem).not.toBe('');
    expect((await signalsOf(sanna)).signals.filter(({ label }) => label === 'Attainment, Sweden')).toHaveLength(2);
  });

  it('can be below a member that was opened by a level of its own, as long as it is opened so', async () => {
    const choices = { 'countries.open-by': ['city>line@Atlantic/Ireland'] };
    const place = { ...CELL.watched, side: ['Atlantic', 'Ireland', '%00>line=Woodwind'] };
    const below = (part: object) => watch(henrike, { ...CELL, watched: place, ...part }, 'Attainment, Ireland, Woodwind');
    await below({}).expect(422);
    await below({ choices, watched: { ...place, side: ['Atlantic', 'Ireland', '%00>line=Nothing'] } }).expect(422);
    await below({ choices }).expect(200);
    await setTargets(5);
    await demo.app.look();
    const own = (await signalsOf(henrike)).signals.filter(({ label }) => label.endsWith('Woodwind'));
    expect(own.map(({ after }) => after)).toEqual(['off']);
    await setTargets(0.5);
    await demo.app.look();
  });

  it('is left alone by others, and can be let go', async () => {
    const [{ id }] = (await signalsOf(sanna)).watches;
    await henrike.delete(`/api/watches/${id}`).expect(404);
    await sanna.delete(`/api/watches/${id}`).expect(200);
    expect((await signalsOf(sanna)).watches.some((one) => one.id === id)).toBe(false);
  });
});

describe('a change of access rules', () => {
  const KEY = { person: 'henrike-hollin', regions: ['Nordic'] };
  const setRules = (regions: string[] | null): Promise<unknown> =>
    demo.connection.pool.query(
      regions === null
        ? `DELETE FROM app.access_rules WHERE person_id = '${KEY.person}'`
        : `INSERT INTO app.access_rules (person_id, dataset, field, members) VALUES ('${KEY.person}', 'hollin-marsh', 'region', '${JSON.stringify(regions)}')`,
    );

  it('raises no signal, and leaves no wider figure in signals and letters', async () => {
    await setTargets(1);
    await demo.app.look();
    const wide = await signalsOf(henrike);
    expect(wide.signals.length).toBeGreaterThan(0);
    expect((await henrike.get('/api/mailbox').expect(200)).body as Mail[]).not.toEqual([]);
    // Nordic is where the state is another than over everything, or the test says nothing.
    await setTargets(0.001);
    await demo.app.look();
    const before = (await signalsOf(henrike)).signals.length;
    await demo.connection.pool.query(`UPDATE app.watches SET state = 'off' WHERE person_id = '${KEY.person}'`);
    await setRules(KEY.regions);
    expect(await demo.app.look()).toBe(0);
    henrike = await demo.as(KEY.person);
    const narrow = await signalsOf(henrike);
    expect(narrow).toMatchObject({ signals: [], unseen: 0 });
    expect(narrow.watches.find(({ label }) => label === 'Net sales')!.state).not.toBe('off');
    expect((await henrike.get('/api/mailbox').expect(200)).body).toEqual([]);
    // What happens under the rules of today is told, and stays when more is seen.
    await setTargets(5);
    expect(await demo.app.look()).toBeGreaterThan(0);
    expect((await signalsOf(henrike)).signals.length).toBeGreaterThan(0);
    await setRules(null);
    henrike = await demo.as(KEY.person);
    expect((await signalsOf(henrike)).signals.length).toBeGreaterThan(before);
  });
});

describe('letters', () => {
  it('have one line for their subject, whatever the label holds', async () => {
    await setTargets(1);
    await demo.app.look();
    await watch(sanna, KPI, 'Net\r\nBcc: everyone@elsewhere.example\u2028sales').expect(200);
    await setTargets(3);
    await demo.app.look();
    const subjects = ((await sanna.get('/api/mailbox').expect(200)).body as Mail[]).map(({ subject }) => subject);
    expect(subjects.filter((subject) => /[\p{Cc}\p{Zl}\p{Zp}]/u.test(subject))).toEqual([]);
  });
});
