import type {
  AccessView,
  CrosstabResponse,
  DatasetView,
  DataTable,
  Finding,
  JoinSuggestion,
  MeasureUse,
  MemberNode,
  ReportView,
  Touched,
} from '@bold-compass/core/api';
import type { Dataset } from '@bold-compass/core/model';
import type { Response } from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
beforeAll(async () => {
  demo = await demoApp();
  agent = await demo.as('ines-calloway');
});
afterAll(() => demo.close());

const D = '/api/datasets/hollin-marsh';
const model = async (): Promise<DatasetView> => (await agent.get(`${D}/model`).expect(200)).body as DatasetView;
const discard = async (): Promise<void> =>
  void (await agent
    .delete(`${D}/draft`)
    .send({ revision: (await model()).draftRevision })
    .expect(200));
const apply = async (status: number): Promise<Response> =>
  agent
    .post(`${D}/apply`)
    .send({ revision: (await model()).draftRevision })
    .expect(status);
const findings = async (): Promise<Finding[]> => (await agent.get(`${D}/findings`).expect(200)).body as Finding[];
const rows = async <Row extends object>(sql: string): Promise<Row[]> => (await demo.connection.pool.query<Row>(sql)).rows;

/** Changes the draft. */
async function edit(change: (definition: Dataset) => void): Promise<DatasetView> {
  const { definition, draftRevision } = await model();
  const next = structuredClone(definition);
  change(next);
  return (await agent.put(`${D}/draft`).send({ definition: next, revision: draftRevision }).expect(200)).body as DatasetView;
}

describe('a draft of a dataset', () => {
  it('tells what figures of reports were and would be, and who changed a measure last', async () => {
    const sold = async (what: string): Promise<number> => {
      const { rows } = await demo.connection.pool.query<{ value: string }>(
        `SELECT ${what} AS value FROM imported.order_lines WHERE status NOT IN ('Cancelled', 'Returned') AND order_date >= '2026-01-01'`,
      );
      return Number(rows[0].value);
    };
    const before = await model();
    const old = before.definition.measures.find(({ name }) => name === 'net_sales')!.formula;
    const setFormula = (formula: string): Promise<DatasetView> =>
      edit((definition) => void (definition.measures.find(({ name }) => name === 'net_sales')!.formula = formula));
    await setFormula('sum(quantity * unit_price)');
    const { reports } = (await agent.get(`${D}/touched`).expect(200)).body as Touched;
    const { values } = reports.find(({ id }) => id === 'sales-against-target')!;
    // Under the year that the report starts with; what is made of the measure changes too.
    const net = values.find(({ label }) => label === 'Net sales')!;
    expect(net.before).toBeCloseTo(await sold('sum(quantity * unit_price - discount)'), 2);
    expect(net.after).toBeCloseTo(await sold('sum(quantity * unit_price)'), 2);
    expect(values.map(({ label }) => label)).toEqual(expect.arrayContaining(['Attainment', 'Gross margin']));
    expect(values.map(({ label }) => label)).not.toContain('Target');
    // A report that shows only what is made of it is told of as well.
    expect(reports.map(({ id }) => id)).toContain('average-order-value');
    expect(reports.map(({ id }) => id)).not.toContain('school-visits');
    await apply(200);
    await setFormula(old);
    await apply(200);
    const uses = (await agent.get('/api/measures').expect(200)).body as MeasureUse[];
    const changed = uses.find(({ name }) => name === 'net_sales')!;
    expect(changed).toMatchObject({ changedBy: 'Ines Calloway' });
    expect(Date.now() - Date.parse(changed.changedAt!)).toBeLessThan(60_000);
    expect(uses.find(({ name }) => name === 'target')).toMatchObject({ changedBy: null, changedAt: null });
  });

  it('changes nothing until it is applied, and says which reports it touches', async () => {
    const before = await model();
    const draft = await edit((definition) => {
      definition.measures.find(({ name }) => name === 'net_sales')!.label = 'Net revenue';
      definition.measures = definition.measures.filter(({ name }) => name !== 'target');
    });
    expect(draft.isDraft).toBe(true);
    const { body: unchanged } = await agent.get(D).expect(200);
    expect((unchanged as { version: number }).version).toBe(before.version);
    const touched = (await agent.get(`${D}/touched`).expect(200)).body as Touched;
    expect(touched.reports.find(({ id }) => id === 'sales-against-target')).toMatchObject({ breaks: ['Target'] });
    // Attainment uses the target: it could not be calculated any more.
    const refused = await apply(422);
    expect(refused.body).toMatchObject({ code: 'dataset-refused', detail: expect.stringContaining('target') as string });
    await discard();
    await edit((definition) => void (definition.measures.find(({ name }) => name === 'net_sales')!.label = 'Net revenue'));
    const applied = (await apply(200)).body as DatasetView;
    expect([applied.isDraft, applied.version]).toEqual([false, before.version + 1]);
    expect(applied.applied.measures.find(({ name }) => name === 'net_sales')!.label).toBe('Net revenue');
  });

  it('says which reports meet a field of another type, and nothing of numbers that stay numbers', async () => {
    await edit((definition) => {
      const field = (fact: string, name: string) =>
        definition.facts.find((one) => one.name === fact)!.fields.find((one) => one.name === name)!;
      field('repairs', 'repair_family').type = 'boolean';
      field('orders', 'quantity').type = 'decimal';
    });
    const { reports } = (await agent.get(`${D}/touched`).expect(200)).body as Touched;
    const retyped = (id: string): unknown => reports.find((report) => report.id === id)?.retyped;
    expect(retyped('repair-workshop')).toEqual([{ label: 'Repaired family', before: 'text', after: 'boolean' }]);
    expect(retyped('order-lines')).toEqual([]);
    await discard();
  });

  it('that someone else changed in the meantime is not written over', async () => {
    const { definition, draftRevision } = await model();
    await agent.put(`${D}/draft`).send({ definition, revision: draftRevision }).expect(200);
    const late = await agent.put(`${D}/draft`).send({ definition, revision: draftRevision }).expect(409);
    expect(late.body).toMatchObject({ code: 'stale-revision' });
    await discard();
  });
});

describe('what the data says', () => {
  it('of every join: which way it goes, and the records that find nothing', async () => {
    const found = await findings();
    expect(found.filter(({ kind }) => kind === 'refused')).toEqual([]);
    const advisers = found.find(({ about }) => about.fact === 'orders' && about.dimension === 'people')!;
    const [{ none }] = await rows<{ none: number }>('SELECT count(*)::int AS none FROM imported.order_lines WHERE adviser_id IS NULL');
    expect(none).toBeGreaterThan(0);
    expect(advisers.words).toContain(`${none.toLocaleString('en-GB')} of 398,295 name none.`);
    await demo.connection.pool.query('UPDATE imported.school_visits SET showroom_id = 99999 WHERE visit_id <= 7');
    const orphans = (await findings()).find(({ about }) => about.fact === 'visits' && about.dimension === 'territory')!;
    expect(orphans.words).toContain('7 of 9,000');
    expect(orphans.examples).toEqual(['99999 (7)']);
  });

  it('refuses a join that would count records twice', async () => {
    await edit((definition) => {
      const territory = definition.dimensions.find(({ name }) => name === 'territory')!;
      if (territory.kind === 'table') territory.key = 'city';
    });
    const refused = (await findings()).filter(({ kind, about }) => kind === 'refused' && about.dimension === 'territory');
    expect(refused[0].words).toContain('would be counted more than once');
    await apply(422);
    await discard();
  });

  it('shows members that are below several of the level above', async () => {
    await demo.connection.pool.query(
      `UPDATE imported.showrooms SET country = 'Norway' WHERE showroom_id = (SELECT min(showroom_id) FROM imported.showrooms WHERE city = 'Stockholm')`,
    );
    const found = (await findings()).find(({ about }) => about.dimension === 'territory' && about.level === 'city')!;
    expect(found).toMatchObject({ kind: 'notice', examples: ['Stockholm in Norway, Sweden'] });
    await edit((definition) => {
      const territory = definition.dimensions.find(({ name }) => name === 'territory')!;
      if (territory.kind !== 'table') return;
      const city = territory.levels.find(({ name }) => name === 'city')!;
      Object.assign(city, { within: 'city', column: 'city told' });
    });
    expect((await findings()).some(({ about }) => about.dimension === 'territory' && about.level === 'city')).toBe(false);
    const members = (await agent.get(`${D}/dimensions/territory/members`).expect(200)).body as MemberNode[];
    expect(members.map(({ label }) => label)).toEqual(expect.arrayContaining(['Stockholm, Sweden', 'Stockholm, Norway']));
    await discard();
  });

  it('works calculated fields out once for each record, and says what is wrong with one', async () => {
    const field = (formula: string) => (definition: Dataset) =>
      void definition.facts
        .find(({ name }) => name === 'orders')!
        .fields.push({ name: 'listed', label: 'Listed', column: 'calculated listed', type: 'decimal', scale: 2, formula });
    for (const [formula, complaint] of [
      ['quantty * unit_price', 'quantty'],
      ['quantity * region', 'region'],
      ['sum(quantity)', 'sum(quantity)'],
      ["if(region = 'Nordic', quantity, 0)", 'region'],
    ]) {
      await edit(field(formula));
      const refused = (await findings()).filter(({ kind, about }) => kind === 'refused' && about.fact === 'orders');
      expect(refused.map(({ words }) => words).join()).toContain(complaint);
      await discard();
    }
    await edit((definition) => {
      field("if(channel = 'Online' and not quantity > 3, quantity * unit_price, if(discount > 0, 0, -1))")(definition);
      definition.measures.push({
        ...{ name: 'listed_most', label: 'Largest listed', formula: 'max(listed)', fact: 'orders', direction: 'higher' },
        format: { kind: 'number', decimals: 2, unit: 'one' },
      });
    });
    await apply(200);
    const report = structuredClone((await agent.get('/api/reports/sales-against-target').expect(200)).body as ReportView).report;
    const exhibit = report.exhibits.find(({ kind }) => kind === 'crosstab')!;
    if (exhibit.kind === 'crosstab') exhibit.cells = [{ measure: 'listed_most' }];
    const { body: view } = await agent.get('/api/reports/sales-against-target?draft=true').expect(200);
    await agent
      .put('/api/reports/sales-against-target')
      .send({ report, revision: (view as ReportView).revision })
      .expect(200);
    const { body } = await agent
      .post(`/api/reports/sales-against-target/exhibits/${exhibit.id}/crosstab`)
      .send({
        ...{ scope: {}, draft: true, rows: { from: 0, count: 5 }, columns: { from: 0, count: 5 } },
        side: { open: { depth: 0, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true },
        top: { open: { depth: 0, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true },
      })
      .expect(200);
    const [{ most }] = await rows<{ most: number }>(
      `SELECT max(CASE WHEN channel = 'Online' AND NOT quantity > 3 THEN quantity * unit_price WHEN discount > 0 THEN 0 ELSE -1 END)::float8 AS most
       FROM imported.order_lines WHERE status NOT IN ('Cancelled', 'Returned')`,
    );
    const { cells } = body as CrosstabResponse;
    expect(cells.at(-1)!.at(-1)).toBe(most);
  });

  it('shows calculated texts, dates, and yes and no as fields of records: on axes, in filters and in formulas', async () => {
    const size = "case when quantity > 3 then 'Large' when quantity > 1 then 'Middle' else 'Single' end";
    const calculated = [
      { name: 'size', label: 'Size', column: 'calculated size', type: 'text', scale: 0, formula: size },
      { name: 'due', label: 'Due', column: 'calculated due', type: 'date', scale: 0, formula: 'add_days(order_date, 30)' },
      {
        name: 'bulky',
        label: 'Bulky',
        column: 'calculated bulky',
        type: 'boolean',
        scale: 0,
        formula: "quantity > 3 and channel = 'Online'",
      },
    ] as const;
    await edit((definition) => {
      definition.facts.find(({ name }) => name === 'orders')!.fields.push(...calculated);
      const number = { format: { kind: 'number', decimals: 0, unit: 'one' }, direction: 'higher' } as const;
      definition.measures.push(
        { name: 'lines', label: 'Lines', formula: 'count()', fact: 'orders', ...number },
        { name: 'bulk_lines', label: 'Bulk lines', formula: "sum(quantity where size = 'Large')", fact: 'orders', ...number },
        { name: 'last_due', label: 'Last due', formula: 'max(due)', fact: 'orders', ...number },
        { name: 'sizes', label: 'Sizes', formula: 'count_distinct(size)', fact: 'orders', ...number },
      );
    });
    await apply(200);
    const report = structuredClone((await agent.get('/api/reports/sales-against-target').expect(200)).body as ReportView).report;
    const exhibit = report.exhibits.find(({ kind }) => kind === 'crosstab')!;
    if (exhibit.kind !== 'crosstab') throw new Error('no cross-tab');
    exhibit.side = { ...exhibit.side, fields: ['size', 'bulky'], openLevels: 1 };
    exhibit.top = { ...exhibit.top, fields: [] };
    exhibit.cells = ['lines', 'bulk_lines', 'last_due', 'sizes'].map((measure) => ({ measure }));
    exhibit.filter = { op: 'in', field: 'size', values: ['Large', 'Single'] };
    const { body: view } = await agent.get('/api/reports/sales-against-target?draft=true').expect(200);
    await agent
      .put('/api/reports/sales-against-target')
      .send({ report, revision: (view as ReportView).revision })
      .expect(200);
    const open = { open: { depth: 1, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
    const { body } = await agent
      .post(`/api/reports/sales-against-target/exhibits/${exhibit.id}/crosstab`)
      .send({ scope: {}, draft: true, rows: { from: 0, count: 20 }, columns: { from: 0, count: 5 }, side: open, top: open })
      .expect(200);
    const { rows: shown, cells, texts } = body as CrosstabResponse;
    interface Expected {
      size: string | null;
      bulky: boolean | null;
      depth: number;
      lines: number;
      bulk: number | null;
      due: string;
      sizes: number;
    }
    const expected = await rows<Expected>(
      `SELECT size, bulky, 2 - grouping(size) - grouping(bulky) AS depth, count(*)::int AS lines,
              sum(quantity) FILTER (WHERE size = 'Large')::int AS bulk, to_char(max(due), 'YYYY-MM-DD') AS due,
              count(DISTINCT size)::int AS sizes
       FROM (SELECT o.*, CASE WHEN quantity > 3 THEN 'Large' WHEN quantity > 1 THEN 'Middle' ELSE 'Single' END AS size,
                    order_date + 30 AS due, quantity > 3 AND channel = 'Online' AS bulky
             FROM imported.order_lines AS o WHERE status NOT IN ('Cancelled', 'Returned')) AS t
       WHERE size IN ('Large', 'Single') GROUP BY GROUPING SETS ((), (size), (size, bulky))`,
    );
    expect(shown.items.length).toBe(expected.length);
    for (const [index, { path }] of shown.items.entries()) {
      const [size, bulky] = path;
      const yes = bulky === null || bulky === undefined ? null : bulky === 'true';
      const own = expected.find((one) => one.depth === path.length && one.size === (size ?? null) && one.bulky === yes)!;
      const [lines, bulk, , sizes] = cells[index];
      expect([lines, bulk, sizes], path.join()).toEqual([own.lines, own.bulk, own.sizes]);
      expect(texts![index][2]).toContain(own.due);
    }
    // The draft as it was, for those after it.
    const { body: after } = await agent.get('/api/reports/sales-against-target?draft=true').expect(200);
    await agent
      .put('/api/reports/sales-against-target')
      .send({ report: (view as ReportView).report, revision: (after as ReportView).revision })
      .expect(200);
  });

  it('reports rings and lost rows of a parent–child tree', async () => {
    const fine = (await findings()).find(({ about }) => about.dimension === 'reporting_line' && !about.fact)!;
    expect(fine.kind).toBe('fine');
    const [{ a, b }] = await rows<{ a: number; b: number }>(
      `SELECT e.employee_id AS a, e.manager_id AS b FROM imported.employees AS e WHERE EXISTS (SELECT FROM imported.employees AS m WHERE m.employee_id = e.manager_id AND m.manager_id IS NOT NULL) ORDER BY 1 LIMIT 1`,
    );
    const [{ before }] = await rows<{ before: number }>(`SELECT manager_id AS before FROM imported.employees WHERE employee_id = ${b}`);
    await demo.connection.pool.query(`UPDATE imported.employees SET manager_id = ${a} WHERE employee_id = ${b}`);
    const ring = (await findings()).find(({ about, kind }) => about.dimension === 'reporting_line' && kind === 'refused')!;
    expect(ring.words).toContain('in a ring');
    await demo.connection.pool.query(`UPDATE imported.employees SET manager_id = 99999 WHERE employee_id = ${b}`);
    const lost = (await findings()).find(({ about, kind }) => about.dimension === 'reporting_line' && kind === 'notice' && !about.fact)!;
    expect(lost.words).toContain('1 rows of Reporting line have a parent that is nowhere');
    await demo.connection.pool.query(`UPDATE imported.employees SET manager_id = ${before} WHERE employee_id = ${b}`);
  });

  it('suggests joins from names and contents', async () => {
    await edit((definition) => {
      const fact = definition.facts.find(({ name }) => name === 'repairs')!;
      fact.links = fact.links.filter(({ dimension }) => dimension !== 'territory');
    });
    const suggested = (await agent.get(`${D}/joins`).expect(200)).body as JoinSuggestion[];
    expect(suggested).toContainEqual(
      expect.objectContaining({ fact: 'repairs', column: 'showroom_id', table: 'showrooms', key: 'showroom_id', matched: 1 }),
    );
    await discard();
    const found = (await agent.get(`${D}/tables`).expect(200)).body as DataTable[];
    expect(found.find(({ table }) => table === 'models')!.columns.map(({ type }) => type)).toEqual([
      'integer',
      'text',
      'text',
      'text',
      'decimal',
      'decimal',
    ]);
  });
});

describe('the reporting line, a parent–child tree', () => {
  it('totals each person with their team, and their own beside, as PostgreSQL does', async () => {
    const { report, revision } = (await agent.get('/api/reports/sales-against-target?draft=true').expect(200)).body as {
      report: { exhibits: { kind: string }[] };
      revision: number;
    };
    const axis = (fields: string[]): object => ({
      fields,
      total: 'always',
      openLevels: 0,
      order: { by: 'label', direction: 'asc' },
      hideEmpty: true,
    });
    const exhibit = {
      ...report.exhibits.find(({ kind }) => kind === 'crosstab')!,
      side: axis(['lead_1', 'lead_2', 'lead_3', 'lead_4', 'lead_5', 'lead_6']),
      top: axis([]),
      cells: [{ measure: 'visit_hours' }],
    };
    await agent
      .put('/api/reports/sales-against-target')
      .send({ report: { ...report, exhibits: [exhibit] }, revision })
      .expect(200);
    const open = { open: { depth: 9, exceptions: [] }, order: { by: 'label', direction: 'asc' }, hideEmpty: true };
    const shown: { path: (string | null)[]; hours: number | null }[] = [];
    for (let from = 0, total = 1; from < total; from += 400) {
      const body = { draft: true, scope: {}, side: open, top: open, rows: { from, count: 400 }, columns: { from: 0, count: 5 } };
      const answer = (await agent.post('/api/reports/sales-against-target/exhibits/territory/crosstab').send(body).expect(200))
        .body as CrosstabResponse;
      total = answer.rows.total;
      answer.rows.items.forEach(({ role, path }, index) => role === 'member' && shown.push({ path, hours: answer.cells[index][0] }));
    }
    const teams = await rows<{ id: string; hours: string; own: string | null }>(`
      WITH RECURSIVE team AS (
        SELECT employee_id AS lead, employee_id AS member FROM imported.employees
        UNION ALL SELECT team.lead, e.employee_id FROM team JOIN imported.employees AS e ON e.manager_id = team.member)
      SELECT lead::text AS id, sum(hours) AS hours, sum(hours) FILTER (WHERE lead = member) AS own
      FROM team JOIN imported.school_visits AS v ON v.adviser_id = team.member GROUP BY lead`);
    expect(teams.length).toBeGreaterThan(50);
    const people = shown.filter(({ path }) => path.at(-1) !== null);
    expect(new Map(people.map(({ path, hours }) => [path.at(-1), hours]))).toEqual(
      new Map(teams.map(({ id, hours }) => [id, Number(hours)])),
    );
    // What stands below a person without a member is their own, shown where they have a team.
    const own = shown.filter(({ path }) => path.at(-1) === null && path.at(-2) != null);
    expect(own.length).toBeGreaterThan(0);
    for (const { path, hours } of own) expect(hours).toBe(Number(teams.find(({ id }) => id === path.at(-2))!.own));
  });

  it('is previewed as a tree with counts', async () => {
    const nodes = (await agent.get(`${D}/dimensions/reporting_line/members`).expect(200)).body as MemberNode[];
    expect(nodes.filter(({ path }) => path.length === 1)).toEqual([expect.objectContaining({ rows: 420 })]);
    const territory = (await agent.get(`${D}/dimensions/territory/members`).expect(200)).body as MemberNode[];
    expect(territory.filter(({ path }) => path.length === 1).map(({ label }) => label)).toEqual([
      'Alpine and Danube',
      'Atlantic',
      'Mediterranean',
      'Nordic',
    ]);
  });
});

describe('access', () => {
  it('is said by people and groups, inherited down, and holds at once', async () => {
    const view = (await agent.get(`${D}/access`).expect(200)).body as AccessView;
    const manager = await demo.as('sanna-wikmark');
    const regions = async (as: Agent, headers: Record<string, string> = {}): Promise<string[]> => {
      const answer = await as.post('/api/reports/order-lines/members').set(headers).send({ field: 'country' }).expect(200);
      return (answer.body as { members: { member: string }[] }).members.map(({ member }) => member).sort();
    };
    const nordic = await regions(manager);
    expect(nordic).toContain('Denmark');
    const rules = [...view.rules, { person: 'sanna-wikmark', group: null, field: 'country', members: ['Denmark'] }];
    const saved = (await agent.put(`${D}/access`).send({ rules, revision: view.revision }).expect(200)).body as AccessView;
    expect(await regions(manager)).toEqual(['Denmark']);
    // What she sees can be looked at, by an analyst; not by another manager.
    expect(await regions(agent, { 'x-view-as': 'sanna-wikmark' })).toEqual(['Denmark']);
    await manager.get('/api/reports').set('x-view-as', 'gareth-penhale').expect(403);
    await agent.get('/api/reports').set('x-view-as', 'nobody').expect(404);
    await agent.get('/api/reports').set('x-view-as', 'tobias-renn').expect(403);
    // Nothing is changed while looking through someone else's eyes.
    await agent.put(`${D}/access`).set('x-view-as', 'sanna-wikmark').send({ rules: [], revision: saved.revision }).expect(403);
    // Rules that someone else changed in the meantime are not written over.
    const late = await agent.put(`${D}/access`).send({ rules: [], revision: view.revision }).expect(409);
    expect(late.body).toMatchObject({ code: 'stale-revision', about: { revision: saved.revision } });
    await agent.put(`${D}/access`).send({ rules: view.rules, revision: saved.revision }).expect(200);
    expect(await regions(manager)).toEqual(nordic);
  });

  it('refuses rules on fields that are not there, and rules for nobody', async () => {
    const rule = { person: 'sanna-wikmark', group: null, field: 'nowhere', members: ['x'] };
    await agent
      .put(`${D}/access`)
      .send({ rules: [rule], revision: 0 })
      .expect(400);
    await agent
      .put(`${D}/access`)
      .send({ rules: [{ ...rule, person: null, field: 'country' }], revision: 0 })
      .expect(400);
  });
});

it('all measures are listed with where they are used', async () => {
  const measures = (await agent.get('/api/measures').expect(200)).body as MeasureUse[];
  const net = measures.find(({ name }) => name === 'net_sales')!;
  expect(net.usedIn).toContain('Attainment');
  const margin = measures.find(({ name }) => name === 'gross_margin')!;
  expect(margin.datasetLabel).toBe('Hollin & Marsh');
  expect(measures.every(({ formula }) => formula !== '')).toBe(true);
});

describe('a draft that was begun before something else was applied', () => {
  it('takes what came since with it when it is applied, and says what both changed', async () => {
    const analyst = await demo.as('ines-calloway');
    const D = '/api/datasets/hollin-marsh';
    const view = async (): Promise<DatasetView> => (await analyst.get(`${D}/model`).expect(200)).body as DatasetView;
    const began = await view();
    const [first, second] = began.definition.measures;
    const relabelled = (definition: Dataset, name: string, label: string): Dataset => ({
      ...definition,
      measures: definition.measures.map((one) => (one.name === name ? { ...one, label } : one)),
    });
    // What an import or another server applies meanwhile, before the first save and after it.
    const applyElsewhere = (definition: Dataset): Promise<unknown> =>
      demo.connection.pool.query(`UPDATE app.datasets SET definition = $1, version = version + 1 WHERE name = 'hollin-marsh'`, [
        definition,
      ]);
    const [repairs] = began.definition.facts.filter(({ name }) => name === 'repairs');
    const copy = { ...repairs, name: 'repairs_again', label: 'Repairs again', fields: [] };
    await applyElsewhere({ ...began.applied, facts: [...began.applied.facts, copy] });
    const draft = relabelled(began.definition, first.name, 'Mine');
    const saved = await analyst
      .put(`${D}/draft`)
      .send({ definition: draft, revision: began.draftRevision, base: began.applied })
      .expect(200);
    const shown = saved.body as DatasetView;
    expect(shown.definition.facts.map(({ name }) => name)).toContain('repairs_again');
    const now = (await view()).applied;
    await applyElsewhere(relabelled(now, second.name, 'Theirs'));
    const both = await view();
    expect(both.definition.measures.slice(0, 2).map(({ label }) => label)).toEqual(['Mine', 'Theirs']);
    const applied = await analyst.post(`${D}/apply`).send({ revision: both.draftRevision }).expect(200);
    expect((applied.body as DatasetView).applied.facts.map(({ name }) => name)).toContain('repairs_again');
    expect((applied.body as DatasetView).applied.measures.slice(0, 2).map(({ label }) => label)).toEqual(['Mine', 'Theirs']);

    const again = await view();
    await analyst
      .put(`${D}/draft`)
      .send({ definition: relabelled(again.definition, first.name, 'Mine again'), revision: again.draftRevision })
      .expect(200);
    await applyElsewhere(relabelled(again.applied, first.name, 'Theirs too'));
    const refused = await analyst
      .post(`${D}/apply`)
      .send({ revision: (await view()).draftRevision })
      .expect(422);
    expect((refused.body as { detail: string }).detail).toContain(first.name);
    await analyst
      .delete(`${D}/draft`)
      .send({ revision: (await view()).draftRevision })
      .expect(200);
  });
});
