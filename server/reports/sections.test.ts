import type { CommonScale, CrosstabResponse, Problem, SectionsResponse } from '@bold-compass/core/api';
import { chartSchema, crosstabSchema, sectionsSchema } from '@bold-compass/core/model';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { scratchReport } from '../../demo/testing/scratch-report.ts';

/** Sections over the demo company: their records and figures held against PostgreSQL, and nobody's section shown to others. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let analyst: Agent;
/** Sees the Nordic region only. */
let nordic: Agent;
let id: string;

const FIGURE = { measure: 'net_sales', indicator: { against: { kind: 'measure', measure: 'target' }, onCourse: 1, drifting: 0.96 } };
const table = crosstabSchema.parse({
  ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: ['region', 'country'], total: 'always', openLevels: 1 } },
  ...{ top: { fields: [] }, cells: [{ measure: 'net_sales' }] },
});
const own = crosstabSchema.parse({
  ...{ ...table, id: 'own', side: { fields: ['line'], total: 'always' }, sections: { field: 'channel', figure: { measure: 'units' } } },
  filter: { op: 'eq', field: 'region', value: 'Nordic' },
});
const chart = chartSchema.parse({
  ...{ kind: 'chart', id: 'chart', title: 'Chart', side: { fields: ['month'] }, top: { fields: [] } },
  ...{ cells: [{ measure: 'net_sales' }], chart: { kind: 'line' } },
});

beforeAll(async () => {
  demo = await demoApp();
  analyst = await demo.as('ines-calloway');
  nordic = await demo.as('sanna-wikmark');
  const scratch = await scratchReport(analyst, 'In sections');
  ({ id } = scratch);
  await scratch.save({ sections: sectionsSchema.parse({ field: 'region', figure: FIGURE }), exhibits: [table, own, chart] });
  await analyst.post(`/api/reports/${id}/publish`).send({ revision: 2 }).expect(200);
});
afterAll(() => demo.close());

const sectionsOf = async (agent: Agent, part: object = {}): Promise<SectionsResponse> =>
  (await agent.post(`/api/reports/${id}/sections`).send(part).expect(200)).body as SectionsResponse;
const axis = { open: { depth: 0, exceptions: [] }, order: null, hideEmpty: true };
const window = { from: 0, count: 100 };
const cells = (agent: Agent, exhibit: string, choices: object, scope: object = {}) =>
  agent
    .post(`/api/reports/${id}/exhibits/${exhibit}/crosstab`)
    .send({ choices, scope, side: axis, top: axis, rows: window, columns: window });
async function rowsOf(agent: Agent, exhibit: string, choices: object): Promise<[string, number | null][]> {
  const { rows, cells: values } = (await cells(agent, exhibit, choices).expect(200)).body as CrosstabResponse;
  return rows.items.map(({ role, labels }, row) => [role === 'total' ? 'total' : labels.at(-1)!, values[row][0]]);
}
async function sql(what: string, where: string, by: string): Promise<[string, number][]> {
  const { rows } = await demo.connection.pool.query<{ member: string; value: string }>(
    `SELECT ${by} AS member, ${what} AS value FROM imported.order_lines JOIN imported.showrooms USING (showroom_id)
     JOIN imported.models USING (model_id) WHERE status NOT IN ('Cancelled', 'Returned') AND ${where} GROUP BY 1 ORDER BY 1`,
  );
  return rows.map(({ member, value }) => [member, Number(value)]);
}
const NET = 'round(sum(quantity * unit_price - discount), 2)';

describe('sections by region', () => {
  it('have the figures that PostgreSQL counts, and so has all of them together', async () => {
    const { sections, whole } = await sectionsOf(analyst);
    const expected = await sql(NET, 'true', 'region');
    expect(sections.map(({ member, figure }) => [member, figure?.value])).toEqual(expected);
    expect(whole?.value).toBeCloseTo(
      expected.reduce((sum, [, value]) => sum + value, 0),
      2,
    );
    expect(sections.every(({ figure, records }) => figure?.state !== 'none' && records > 0)).toBe(true);
  });

  it('show the rows of their member alone, with its total', async () => {
    const rows = await rowsOf(analyst, 'table', { 'report.section': ['region', 'Nordic'] });
    const expected = await sql(NET, "region = 'Nordic'", 'country');
    expect(rows.slice(0, -1)).toEqual(expected);
    expect(rows.at(-1)![1]).toBeCloseTo(
      expected.reduce((sum, [, value]) => sum + value, 0),
      2,
    );
  });

  it('are empty where the reader chose another region', async () => {
    const { body } = await cells(analyst, 'table', { 'report.section': ['region', 'Nordic'] }, { region: ['Atlantic'] }).expect(200);
    expect((body as CrosstabResponse).rows.items.filter(({ role }) => role === 'member')).toEqual([]);
  });

  it('have scales in common that reach from the least to the largest month of any', async () => {
    const request = { ...{ side: axis, top: axis }, field: 'region' };
    const { body } = await analyst.post(`/api/reports/${id}/exhibits/chart/common-scale`).send(request).expect(200);
    const months = (await sql(NET, 'true', "region || to_char(order_date, ' YYYY-MM')")).map(([, value]) => value);
    expect(body as CommonScale).toMatchObject({ measures: [{ low: Math.min(...months), high: Math.max(...months) }] });
  });
});

describe('sections that nobody finds their way through', () => {
  it('are refused with what to do', async () => {
    const many = await scratchReport(analyst, 'One for each customer');
    await many.save({ sections: sectionsSchema.parse({ field: 'customer' }), exhibits: [table] });
    const { body } = await analyst.post(`/api/reports/${many.id}/sections`).send({ draft: true }).expect(422);
    expect((body as Problem).code).toBe('too-large');
    expect((body as Problem).detail).toMatch(/^These would be [\d,]+ sections, and 1,000 is the most\. Choose fewer members/);
  });
});

describe('an exhibit with sections of its own', () => {
  it('has them under its own condition, within the section of the page', async () => {
    const { sections, whole } = await sectionsOf(analyst, { exhibit: 'own' });
    const expected = await sql('sum(quantity)', "region = 'Nordic'", 'channel');
    expect(sections.map(({ member, figure }) => [member, figure?.value])).toEqual(expected);
    expect(whole?.value).toBe(expected.reduce((sum, [, value]) => sum + value, 0));
    const rows = await rowsOf(analyst, 'own', { 'report.section': ['region', 'Nordic'], 'own.section': ['channel', 'Online'] });
    expect(rows.slice(0, -1)).toEqual(await sql(NET, "region = 'Nordic' AND channel = 'Online'", 'line'));
    const { sections: elsewhere } = await sectionsOf(analyst, { exhibit: 'own', choices: { 'report.section': ['region', 'Atlantic'] } });
    expect(elsewhere).toEqual([]);
  });
});

describe('sections of somebody who sees a part', () => {
  it('are theirs alone, with the whole of what they see', async () => {
    const { sections, whole } = await sectionsOf(nordic);
    const expected = (await sql(NET, "region = 'Nordic'", 'region'))[0][1];
    expect(sections.map(({ member, figure }) => [member, figure?.value])).toEqual([['Nordic', expected]]);
    expect(whole?.value).toBe(expected);
  });

  it.each([
    ['of another region', { 'report.section': ['region', 'Atlantic'] }],
    ['of an exhibit, in another region', { 'own.section': ['country', 'France'] }],
    ['of a region that is not there', { 'report.section': ['region', 'Utopia'] }],
  ])('are refused %s, in the same words', async (_, choices) => {
    const [[, , member]] = Object.values(choices).map(([field, name]) => [null, field, name] as const);
    const { body } = await cells(nordic, 'own', choices).expect(422);
    expect((body as Problem).code).toBe('scope-unknown');
    expect((body as Problem).detail).toMatch(new RegExp(`^There is no \\w+ “${member}” here, or it is not among what you may see`));
  });

  it('are refused by a level that is none, and where there are none', async () => {
    const { body } = await cells(nordic, 'table', { 'report.section': ['pg_authid', 'x'] }).expect(422);
    expect((body as Problem).code).toBe('scope-unknown');
    await nordic.post(`/api/reports/${id}/sections`).send({ exhibit: 'table' }).expect(404);
    const request = { ...{ side: axis, top: axis }, field: 'pg_authid' };
    await nordic.post(`/api/reports/${id}/exhibits/chart/common-scale`).send(request).expect(422);
  });
});
