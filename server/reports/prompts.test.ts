import type { CrosstabResponse, MembersResponse, PossibleResponse, Problem, ReportView } from '@bold-compass/core/api';
import { branchesChoice, exclusion, periodChoiceText } from '@bold-compass/core/prompts';
import { reportSchema, type Report } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { foreignNames } from '../../demo/testing/foreign.ts';

/** What each kind of prompt leaves of the figures, held against PostgreSQL, and that no choice shows what is not one's own. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let analyst: Agent;
let id: string;

const PROMPTS: object[] = [
  { id: 'territory', fields: ['region', 'country', 'city'] },
  { id: 'channel', fields: ['channel'], linked: true },
  { id: 'branch', kind: 'branches', fields: ['region', 'country', 'city'], initial: [] },
  { id: 'when', kind: 'period', calendar: 'calendar' },
  { id: 'dates', kind: 'dates', field: 'order_date' },
  { id: 'price', kind: 'range', field: 'unit_price' },
  { id: 'text', kind: 'text', field: 'city' },
  { id: 'shown', kind: 'measure', measures: ['net_sales', 'units'] },
  {
    ...{ id: 'by', kind: 'dimension' },
    choices: [
      { label: 'Territory', fields: ['region'] },
      { label: 'Product', fields: ['line'] },
    ],
  },
  { id: 'showroom-only', kind: 'switch', on: 'in showrooms', off: 'anywhere', filter: { op: 'eq', field: 'channel', value: 'Showroom' } },
  { id: 'discount', kind: 'number', initial: 0.1, min: 0, max: 0.5, percent: true },
];

const format = { kind: 'number', decimals: 2 };
const MEASURES = [
  { name: 'reduced', label: 'Reduced', formula: 'net_sales * (1 - prompt(discount))', fact: 'orders', format },
  { name: 'cheap', label: 'Cheap lines', formula: 'count(where discount <= prompt(discount))', fact: 'orders', format },
  { name: 'same_channel', label: 'Same channel', formula: 'sum(net_amount where channel = prompt(channel))', fact: 'orders', format },
];

const report = (part: object = {}): Report =>
  reportSchema.parse({
    ...{ schemaVersion: 1, id: 'prompts', title: 'Prompts', dataset: 'hollin-marsh', prompts: PROMPTS, measures: MEASURES },
    exhibits: [
      {
        ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: ['region'] }, top: { fields: [] } },
        cells: [{ measure: 'net_sales' }, { measure: 'reduced' }, { measure: 'cheap' }, { measure: 'same_channel' }],
      },
    ],
    ...part,
  });

beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
  const made = await analyst.post('/api/reports/import').send({ report: report() }).expect(200);
  ({ id } = made.body as { id: string });
  await analyst.post(`/api/reports/${id}/publish`).send({ revision: 1 }).expect(200);
});
afterAll(() => demo.close());

const axis = { open: { depth: 0, exceptions: [] }, order: null, hideEmpty: true };
const window = { from: 0, count: 100 };
const ask = (agent: Agent, asked: object) =>
  agent.post(`/api/reports/${id}/exhibits/table/crosstab`).send({ ...asked, side: axis, top: axis, rows: window, columns: window });
async function total(asked: object, agent = analyst): Promise<(number | null)[]> {
  const { body } = await ask(agent, asked).expect(200);
  const { rows, cells } = body as CrosstabResponse;
  return cells[rows.items.findIndex(({ role }) => role === 'total')] ?? cells.at(-1)!;
}
async function sql(what: string, where: string): Promise<number> {
  const { rows } = await demo.connection.pool.query<{ value: string | null }>(
    `SELECT ${what} AS value FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
     WHERE status NOT IN ('Cancelled', 'Returned') AND ${where}`,
  );
  return Number(rows[0].value);
}

describe('a choice', () => {
  it.each([
    [
      'all but some members',
      { choices: { territory: [exclusion('country', ['Sweden', 'Denmark'])] } },
      "country NOT IN ('Sweden', 'Denmark')",
    ],
    [
      'branches at several levels',
      { choices: { branch: branchesChoice([['Atlantic'], ['Nordic', 'Sweden']], false) } },
      "(region = 'Atlantic' OR country = 'Sweden')",
    ],
    [
      'all but some branches',
      { choices: { branch: branchesChoice([['Atlantic'], ['Nordic', 'Sweden']], true) } },
      "NOT (region = 'Atlantic' OR country = 'Sweden')",
    ],
    [
      'from quarter to quarter',
      { choices: { when: periodChoiceText({ unit: 'quarter', from: '2025-Q3', to: '2026-Q1' }) } },
      "order_date BETWEEN '2025-07-01' AND '2026-03-31'",
    ],
    ['the last three complete months', { choices: { when: ['last', '3', 'month'] } }, "order_date BETWEEN '2026-08-01' AND '2026-10-31'"],
    ['the year to date', { choices: { when: ['to_date', 'year'] } }, "order_date BETWEEN '2026-01-01' AND '2026-10-31'"],
    ['up to the last full quarter', { choices: { when: ['complete', 'quarter'] } }, "order_date <= '2026-09-30'"],
    ['dates', { choices: { dates: ['2026-02-10', '2026-03-05'] } }, "order_date BETWEEN '2026-02-10' AND '2026-03-05'"],
    ['dates to an open end', { choices: { dates: ['2026-10-30', ''] } }, "order_date >= '2026-10-30'"],
    ['numbers', { choices: { price: ['100', '250.5'] } }, 'unit_price BETWEEN 100 AND 250.5'],
    ['a text whatever its case', { choices: { text: ['OS'] } }, "city ILIKE '%os%'"],
    ['a switch that is on', { choices: { 'showroom-only': ['on'] } }, "channel = 'Showroom'"],
    ['a switch that is off', { choices: { 'showroom-only': ['off'] } }, 'true'],
    [
      'several at once, beside members',
      { scope: { channel: ['Online'] }, choices: { when: ['to_date', 'year'], price: ['', '90'] } },
      "channel = 'Online' AND order_date >= '2026-01-01' AND unit_price <= 90",
    ],
  ])('%s leaves what PostgreSQL says', async (_, asked, where) => {
    expect((await total(asked))[0]).toBeCloseTo(await sql('sum(net_amount)', where), 2);
  });

  it('of a number is calculated with, in cells and in records', async () => {
    const net = await sql('sum(net_amount)', 'true');
    expect((await total({}))[1]).toBeCloseTo(net * 0.9, 2);
    const [, reduced, cheap] = await total({ choices: { discount: ['0.05'] } });
    expect(reduced).toBeCloseTo(net * 0.95, 2);
    expect(cheap).toBe(await sql('count(*)', 'discount <= 0.05'));
  });

  it('of one member stands in formulas, and of several has no value', async () => {
    expect((await total({ scope: { channel: ['Online'] } }))[3]).toBeCloseTo(await sql('sum(net_amount)', "channel = 'Online'"), 2);
    expect((await total({ scope: { channel: ['Online', 'Rental'] } }))[3]).toBeNull();
  });

  it('of a measure and of levels is shown in the place of the first', async () => {
    const { body } = await ask(analyst, { choices: { shown: ['units'], by: ['Product'] } }).expect(200);
    const { rows, cells, measures } = body as CrosstabResponse;
    expect(measures.map(({ measure }) => measure)).toEqual(['units', 'reduced of units', 'cheap', 'same_channel']);
    expect(rows.items.filter(({ role }) => role === 'member').map(({ path }) => path[0])).toContain('Woodwind');
    expect(cells.at(-1)![0]).toBe(await sql('sum(quantity)', 'true'));
    // What is made of the first alone, with the discount of its prompt, follows: a tenth less of the units.
    expect(cells.at(-1)![1]).toBeCloseTo(Number(cells.at(-1)![0]) * 0.9, 6);
  });

  it.each([
    ['a number outside its limits', { discount: ['0.6'] }],
    ['a text in the place of a number', { discount: ['1; DROP TABLE'] }],
    ['a period that is none', { when: ['month', '2026-13', '2026-14'] }],
    ['a measure that is not offered', { shown: ['gross_margin'] }],
    ['levels that are not offered', { by: ['Customer'] }],
    ['a field that the prompt is not about', { territory: [exclusion('customer', ['1'])] }],
    ['a date that is none', { dates: ['2026-02-30', ''] }],
  ])('%s is refused with what to do', async (_, choices) => {
    const { body } = await ask(analyst, { choices }).expect(422);
    expect(body).toMatchObject({ code: 'scope-unknown' });
    expect((body as Problem).detail).toMatch(/Choose again\.$/);
  });

  it('of a prompt that is gone changes nothing', async () => {
    expect(await total({ choices: { gone: ['x'] } })).toEqual(await total({}));
  });
});

describe('cascades', () => {
  const possible = async (asked: object, agent = analyst): Promise<PossibleResponse> =>
    (await agent.post(`/api/reports/${id}/possible`).send(asked).expect(200)).body as PossibleResponse;
  it('drop what a coarser choice makes impossible, keep the rest, and say which', async () => {
    const scope = { region: ['Nordic'], country: ['Sweden', 'France'] };
    expect(await possible({ scope, changed: 'region' })).toEqual({
      scope: { region: ['Nordic'], country: ['Sweden'] },
      dropped: [{ field: 'country', labels: ['France'] }],
    });
    expect((await possible({ scope: { region: ['Nordic'], country: ['France'] }, changed: 'region' })).scope).toEqual({
      region: ['Nordic'],
    });
    expect(await possible({ scope, changed: 'country' })).toEqual({ scope, dropped: [] });
  });
  it('offer with a linked prompt only what occurs together, and drop it elsewhere', async () => {
    const { rows } = await demo.connection.pool.query<{ city: string; channel: string }>(
      `SELECT DISTINCT city, channel FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
       WHERE status NOT IN ('Cancelled', 'Returned') AND order_date = '2026-10-31'`,
    );
    const day = { choices: { dates: ['2026-10-31', '2026-10-31'] } };
    const city = rows
      .map((row) => row.city)
      .find((one) => new Set(rows.filter((row) => row.city === one).map(({ channel }) => channel)).size < 3)!;
    const there = [...new Set(rows.filter((row) => row.city === city).map(({ channel }) => channel))].sort();
    const { body } = await analyst
      .post(`/api/reports/${id}/members`)
      .send({ ...day, scope: { city: [city] }, field: 'channel' })
      .expect(200);
    expect((body as MembersResponse).members.map(({ member }) => member)).toEqual(there);
    const gone = ['Online', 'Rental', 'Schools', 'Showroom'].find((channel) => !there.includes(channel))!;
    const left = await possible({ ...day, scope: { city: [city], channel: [gone, there[0]] }, changed: 'city' });
    expect(left).toEqual({ scope: { city: [city], channel: [there[0]] }, dropped: [{ field: 'channel', labels: [gone] }] });
  });
});

describe('what a report starts with', () => {
  async function start(prompt: object, agent = analyst): Promise<ReportView['start']> {
    const made = await analyst
      .post('/api/reports/import')
      .send({ report: report({ prompts: [...PROMPTS.slice(-1), { id: 'p', ...prompt }], measures: MEASURES.slice(0, 2), exhibits: [] }) });
    const { id: own } = made.body as { id: string };
    await analyst.post(`/api/reports/${own}/publish`).send({ revision: 1 }).expect(200);
    return ((await agent.get(`/api/reports/${own}`).expect(200)).body as ReportView).start;
  }
  it('is the latest, the first, what is written, or the own territory of who asks', async () => {
    expect((await start({ fields: ['year', 'month'], start: 'latest' })).scope).toEqual({ year: ['2026'], month: ['2026-10'] });
    expect((await start({ fields: ['year', 'month'], start: 'first' })).scope).toEqual({ year: ['2023'], month: ['2023-01'] });
    expect((await start({ fields: ['country'], initial: { country: ['Sweden'] } })).scope).toEqual({ country: ['Sweden'] });
    expect((await start({ fields: ['region'], start: 'own' })).scope).toEqual({});
    expect((await start({ fields: ['region'], start: 'own' }, await demo.as('sanna-wikmark'))).scope).toEqual({ region: ['Nordic'] });
  });
});

describe('access rules', () => {
  it('hold in every kind of choice: what is not theirs is as what does not exist', async () => {
    const manager = await demo.as('sanna-wikmark');
    const expectNothingForeign = await foreignNames(demo);
    const refused = async (choices: object): Promise<Problem> => (await ask(manager, { choices }).expect(422)).body as Problem;
    const words = ({ detail }: Problem, ...members: string[]): string =>
      members.reduce((text, member) => text.replaceAll(member, '…'), detail);
    for (const [foreign, none] of [
      [{ territory: [exclusion('country', ['France'])] }, { territory: [exclusion('country', ['Nowhere'])] }],
      [{ branch: branchesChoice([['Atlantic', 'France']], false) }, { branch: branchesChoice([['Nowhere', 'France']], false) }],
    ] as const) {
      const [known, unknown] = [await refused(foreign), await refused(none)];
      expect([known.code, known.status]).toEqual([unknown.code, unknown.status]);
      expect(words(known, 'France', 'Atlantic')).toBe(words(unknown, 'Nowhere', 'France'));
    }
    for (const choices of [
      { text: ['a'] },
      { branch: branchesChoice([['Nordic', 'Sweden']], true) },
      { when: ['to_date', 'year'] },
      { by: ['Product'] },
    ]) {
      expectNothingForeign((await ask(manager, { choices }).expect(200)).body);
    }
    const all = await sql('sum(net_amount)', "region = 'Nordic' AND city ILIKE '%a%'");
    expect((await total({ choices: { text: ['A'] } }, manager))[0]).toBeCloseTo(all, 2);
  });

  it('hold for members that a document orders by hand or puts together', async () => {
    const levels = {
      country: {
        order: { by: 'hand', members: ['France', 'Sweden'] },
        groups: [{ id: 'g', label: 'Together', members: ['France', 'Sweden'], less: ['Spain', 'Norway'] }],
      },
    };
    const exhibit = {
      ...{ kind: 'crosstab', id: 'table', title: 'Table', cells: [{ measure: 'net_sales' }], top: { fields: ['year'] } },
      side: { fields: ['country'], levels, order: { by: 'hand', members: ['Spain', 'Denmark'] } },
    };
    const made = await analyst.post('/api/reports/import').send({ report: report({ prompts: [], measures: [], exhibits: [exhibit] }) });
    const { id: own } = made.body as { id: string };
    await analyst.post(`/api/reports/${own}/publish`).send({ revision: 1 }).expect(200);
    const { body } = await (await demo.as('sanna-wikmark')).get(`/api/reports/${own}`).expect(200);
    (await foreignNames(demo))(body);
    expect((body as ReportView).report.exhibits[0]).toMatchObject({
      side: {
        order: { members: ['Denmark'] },
        levels: { country: { order: { members: ['Sweden'] }, groups: [{ members: ['Sweden'], less: ['Norway'] }] } },
      },
    });
  });

  it('hold in what a report starts with and in its document', async () => {
    const prompts = [
      {
        id: 'branch',
        kind: 'branches',
        fields: ['region', 'country'],
        initial: [
          ['Atlantic', 'France'],
          ['Nordic', 'Sweden'],
        ],
      },
      { id: 'territory', fields: ['country'], initial: { country: ['France', 'Sweden'] } },
      { id: 'near', kind: 'switch', on: 'near', off: 'far', filter: { op: 'in', field: 'country', values: ['France', 'Sweden'] } },
    ];
    const made = await analyst.post('/api/reports/import').send({ report: report({ prompts, measures: [], exhibits: [] }) });
    const { id: own } = made.body as { id: string };
    await analyst.post(`/api/reports/${own}/publish`).send({ revision: 1 }).expect(200);
    const manager = await demo.as('sanna-wikmark');
    const { body } = await manager.get(`/api/reports/${own}`).expect(200);
    (await foreignNames(demo))(body);
    expect((body as ReportView).report.prompts).toMatchObject([
      { initial: [['Nordic', 'Sweden']] },
      { initial: { country: ['Sweden'] } },
      { filter: { values: ['Sweden'] } },
    ]);
  });
});
