import type { CrosstabResponse, Header, KpiResponse, ReportView, SpreadResponse } from '@bold-compass/core/api';
import {
  axisOver,
  crosstabSchema,
  datasetSchema,
  kpiStripSchema,
  measureNamed,
  type Crosstab,
  type Indicator,
  type Mark,
  type Measure,
} from '@bold-compass/core/model';
import { stateMeasure } from '@bold-compass/core/marks';
import { largestFirst, outlierRule, paretoMeasure } from '@bold-compass/core/modelling';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { demoApp, type DemoApp } from '../../demo/testing/database.ts';
import { foreignNames } from '../../demo/testing/foreign.ts';
import { scratchReport, type ScratchReport } from '../../demo/testing/scratch-report.ts';

/** What is drawn with figures, and how they are judged, is what PostgreSQL's window functions say of the same records. */

type Agent = Awaited<ReturnType<DemoApp['as']>>;
let demo: DemoApp;
let agent: Agent;
let scratch: ScratchReport;
beforeAll(async () => {
  demo = await demoApp();
  await demo.app.warm();
  agent = await demo.as('ines-calloway');
  scratch = await scratchReport(agent, 'Marks');
});
afterAll(() => demo.close());

const axis = { open: { depth: 9, exceptions: [] }, order: null, hideEmpty: true };
const window = { from: 0, count: 400 };

interface Shape {
  side: string[];
  top?: string[];
  measure?: string;
  marks?: Mark[];
  indicator?: Indicator;
}
async function table(
  { side, top = [], measure = 'net_sales', ...cell }: Shape,
  scope: object = {},
  who = agent,
): Promise<CrosstabResponse> {
  const [down, across] = [side, top].map((fields) => ({ fields, total: 'always' }));
  await scratch.show(
    crosstabSchema.parse({ kind: 'crosstab', id: 'table', title: 'Table', side: down, top: across, cells: [{ measure, ...cell }] }),
  );
  const body = { draft: who === agent, scope, side: axis, top: axis, rows: window, columns: window };
  const { body: answer } = await who.post(`/api/reports/${scratch.id}/exhibits/table/crosstab`).send(body).expect(200);
  return answer as CrosstabResponse;
}

/** A cross-tab shown with measures of the report's own. */
async function shownWith(measures: Measure[], exhibit: Crosstab): Promise<CrosstabResponse> {
  const { report, revision } = (await agent.get(`/api/reports/${scratch.id}?draft=true`).expect(200)).body as ReportView;
  await agent
    .put(`/api/reports/${scratch.id}`)
    .send({ report: { ...report, measures, exhibits: [exhibit] }, revision })
    .expect(200);
  const body = { draft: true, scope: {}, side: axis, top: axis, rows: window, columns: window };
  return (await agent.post(`/api/reports/${scratch.id}/exhibits/table/crosstab`).send(body).expect(200)).body as CrosstabResponse;
}
const dataset = datasetSchema.parse(JSON.parse(readFileSync(new URL('../../demo/documents/dataset.json', import.meta.url), 'utf8')));

/** Net sales by some columns, as a subquery `t`. */
const sales = (columns: string): string => `(
  SELECT ${columns}, sum(quantity * unit_price - discount)::float8 AS v
  FROM imported.order_lines o JOIN imported.showrooms s USING (showroom_id)
  WHERE status NOT IN ('Cancelled', 'Returned')
  GROUP BY ${columns.replaceAll(/ AS \w+/g, '')}) t`;
const YEAR = `to_char(order_date, 'YYYY') AS year`;
async function rows<Row extends object>(sql: string): Promise<Row[]> {
  return (await demo.connection.pool.query<Row>(sql)).rows;
}
const members = (headers: Header[]): { header: Header; index: number }[] =>
  headers.flatMap((header, index) => (header.role === 'member' && !header.bare ? [{ header, index }] : []));

describe('bars', () => {
  const SHARED: Record<string, string> = {
    column: 'PARTITION BY year',
    row: 'PARTITION BY country',
    table: '',
  };
  it.each(Object.entries(SHARED))('of one scale for each %s end where the value is on it', async (scale, partition) => {
    const answer = await table({ side: ['country'], top: ['year'], marks: [{ kind: 'bar', scale: scale as 'column' }] });
    const found = await rows<{ country: string; year: string; place: number }>(
      `SELECT country, year, v / max(v) OVER (${partition}) AS place FROM ${sales(`country, ${YEAR}`)}`,
    );
    const expected = new Map(found.map(({ country, year, place }) => [`${country} ${year}`, place]));
    let compared = 0;
    for (const row of members(answer.rows.items))
      for (const column of members(answer.columns.items)) {
        const place = expected.get(`${row.header.path[0]} ${column.header.path[0]}`);
        const bar = answer.marks![0].values[row.index][column.index];
        if (place === undefined) expect(bar).toBeNull();
        else expect(bar![1]).toBeCloseTo(place, 3);
        compared++;
      }
    expect(compared).toBe(19 * 4);
    // What adds members up stands on no scale that they share.
    const total = answer.rows.items.findIndex(({ role }) => role === 'total');
    if (scale !== 'row') expect(answer.marks![0].values[total].every((bar) => bar === null)).toBe(true);
  });

  it('of the members of each parent stand on the scale of these', async () => {
    const answer = await table({ side: ['region', 'country'], marks: [{ kind: 'bar', scale: 'siblings' }] });
    const found = await rows<{ country: string; place: number }>(
      `SELECT country, v / max(v) OVER (PARTITION BY region) AS place FROM ${sales('region, country')}`,
    );
    const expected = new Map(found.map(({ country, place }) => [country, place]));
    const countries = members(answer.rows.items).filter(({ header }) => header.path.length === 2);
    expect(countries).toHaveLength(19);
    for (const { header, index } of countries) expect(answer.marks![0].values[index][0]![1]).toBeCloseTo(expected.get(header.path[1]!)!, 3);
  });

  it('begin at zero where some values are below it, and mark their target', async () => {
    const answer = await table({
      side: ['country'],
      measure: 'variance_to_target',
      marks: [{ kind: 'bar', scale: 'column', target: 'target' }],
    });
    const values = members(answer.rows.items).map(({ index }) => ({
      value: answer.cells[index][0]!,
      bar: answer.marks![0].values[index][0]!,
    }));
    expect(values.some(({ value }) => value < 0)).toBe(true);
    const zero = values.find(({ value }) => value > 0)!.bar[0];
    for (const { value, bar } of values) {
      expect(bar[value < 0 ? 1 : 0]).toBeCloseTo(zero, 6);
      expect(bar).toHaveLength(3);
    }
  });
});

describe('colours, arrows and rules', () => {
  it('are darker by the place between the least and the most', async () => {
    const answer = await table({ side: ['country'], marks: [{ kind: 'shade', scale: 'column', colours: 'one', middle: 0 }] });
    const found = await rows<{ country: string; place: number }>(
      `SELECT country, (v - min(v) OVER ()) / (max(v) OVER () - min(v) OVER ()) AS place FROM ${sales('country')}`,
    );
    const expected = new Map(found.map(({ country, place }) => [country, place]));
    for (const { header, index } of members(answer.rows.items))
      expect(answer.marks![0].values[index][0]![0]).toBeCloseTo(expected.get(header.path[0]!)!, 3);
  });

  it('point by the change on the column before (lag), level within the threshold', async () => {
    const threshold = 0.05;
    const answer = await table({ side: ['country'], top: ['year'], marks: [{ kind: 'arrow', along: 'columns', threshold }] });
    const found = await rows<{ country: string; year: string; change: number | null }>(
      `SELECT country, year, v / lag(v) OVER (PARTITION BY country ORDER BY year) - 1 AS change FROM ${sales(`country, ${YEAR}`)}`,
    );
    let turned = 0;
    for (const { country, year, change } of found) {
      const row = answer.rows.items.findIndex(({ path }) => path[0] === country);
      const column = answer.columns.items.findIndex(({ path }) => path[0] === year);
      const arrow = answer.marks![0].values[row][column];
      if (change === null) expect(arrow).toBeNull();
      else {
        expect(arrow![0]).toBe(Math.abs(change) < threshold ? 0 : Math.sign(change));
        expect(arrow![1]).toBeCloseTo(change, 9);
        turned++;
      }
    }
    expect(turned).toBeGreaterThan(50);
  });

  it('hold where their formula does, also over other periods, and are refused with a place where it is wrong', async () => {
    const formula = 'net_sales < net_sales back 1 year and level_is(country)';
    const answer = await table(
      { side: ['country'], marks: [{ kind: 'rule', formula, label: '', tone: 'off', look: 'text' }] },
      { year: ['2026'] },
    );
    const found = await rows<{ country: string; fell: boolean }>(
      `SELECT country, sum(v) FILTER (WHERE part = 'now') < sum(v) FILTER (WHERE part = 'before') AS fell FROM (
         SELECT country, CASE WHEN order_date >= '2026-01-01' THEN 'now' ELSE 'before' END AS part, quantity * unit_price - discount AS v
         FROM imported.order_lines o JOIN imported.showrooms s USING (showroom_id)
         WHERE status NOT IN ('Cancelled', 'Returned')
           AND (order_date BETWEEN '2026-01-01' AND '2026-10-31' OR order_date BETWEEN '2025-01-01' AND '2025-10-31')) x
       GROUP BY country`,
    );
    const fell = new Map(found.map((row) => [row.country, row.fell]));
    expect([...fell.values()].filter(Boolean).length).toBeGreaterThan(2);
    for (const { header, index } of members(answer.rows.items))
      expect({ country: header.path[0], holds: answer.marks![0].values[index][0] !== null }).toEqual({
        country: header.path[0],
        holds: fell.get(header.path[0]!),
      });
    const wrong = crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: ['country'] }, top: { fields: [] } },
      cells: [{ measure: 'net_sales', marks: [{ kind: 'rule', formula: 'net_sales + nothing_like_this > 1' }] }],
    });
    await expect(scratch.show(wrong)).rejects.toThrow(/422/);
  });
});

describe('quick statistics', () => {
  const measure = (): Measure => measureNamed(dataset, 'net_sales');

  it('class members as the running share of the largest says (a window over the order)', async () => {
    const pareto = paretoMeasure(dataset, measure());
    const found = await rows<{ country: string; class: string }>(
      `SELECT country, CASE WHEN before < 0.8 THEN 'A' WHEN before < 0.95 THEN 'B' ELSE 'C' END AS class FROM (
         SELECT country, (sum(v) OVER (ORDER BY v DESC) - v) / sum(v) OVER () AS before FROM ${sales('country')}) x`,
    );
    const own = crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'table', title: 'Table', side: { fields: ['country'] }, top: { fields: [] } },
      cells: [{ measure: 'net_sales' }, { measure: pareto.name }],
    });
    const answer = await shownWith([pareto], largestFirst(own, 'net_sales'));
    const classes = new Map(answer.rows.items.map(({ path }, index) => [path[0], answer.texts![index][1]]));
    expect(found.map(({ country }) => classes.get(country))).toEqual(found.map((row) => row.class));
    expect(new Set(found.map((row) => row.class)).size).toBe(3);
  });

  it('put customers in Pareto classes within each region: every figure, and the records behind it', async () => {
    const side = { fields: ['region', 'customer'], levels: { customer: { classes: { measure: 'net_sales', upTo: [50, 80] } } } };
    const own = crosstabSchema.parse({
      ...{ kind: 'crosstab', id: 'table', title: 'Table', side, top: { fields: [] } },
      cells: [{ measure: 'net_sales' }, { measure: 'orders_count' }],
    });
    const answer = await shownWith([], own);
    const found = await rows<{ region: string; class: string; net: string; orders: string; records: number }>(
      `WITH kept AS (
         SELECT region, COALESCE(customer_id::text, '') AS customer_id, order_number, quantity * unit_price - discount AS v
         FROM imported.order_lines JOIN imported.showrooms USING (showroom_id) WHERE status NOT IN ('Cancelled', 'Returned')),
       sized AS (SELECT region, customer_id, sum(v) AS v FROM kept GROUP BY 1, 2),
       shares AS (SELECT *, (sum(v) OVER (PARTITION BY region ORDER BY v DESC, customer_id) - v) / sum(v) OVER (PARTITION BY region) AS before FROM sized)
       SELECT kept.region, CASE WHEN before < 0.5 THEN 'Class A' WHEN before < 0.8 THEN 'Class B' ELSE 'Class C' END AS class,
         sum(kept.v)::text AS net, count(DISTINCT order_number)::text AS orders, count(*)::int AS records
       FROM kept JOIN shares ON kept.region = shares.region AND kept.customer_id = shares.customer_id GROUP BY 1, 2`,
    );
    expect(found).toHaveLength(3 * new Set(found.map(({ region }) => region)).size);
    for (const { region, class: own, net, orders, records } of found) {
      const row = answer.rows.items.findIndex(({ path, labels }) => path[0] === region && labels.at(-1) === own);
      expect(answer.cells[row], `${region} ${own}`).toEqual([Number(net), Number(orders)]);
      const { path } = answer.rows.items[row];
      const body = { draft: true, side: path, top: [], measure: 'net_sales', order: [], offset: 0, limit: 1 };
      const behind = await agent.post(`/api/reports/${scratch.id}/exhibits/table/records`).send(body).expect(200);
      expect(behind.body).toMatchObject({ page: { records } });
    }
  });

  it('mark outliers beyond two standard deviations (stddev) of the members beside them', async () => {
    const own = { side: axisOver(['country']) };
    const answer = await table({ side: ['country'], marks: [outlierRule(own, measure())!] });
    const found = await rows<{ country: string; out: boolean }>(
      `SELECT country, abs(v - avg(v) OVER ()) > 2 * stddev(v) OVER () AS out FROM ${sales('country')}`,
    );
    for (const { country, out } of found) {
      const row = answer.rows.items.findIndex(({ path }) => path[0] === country);
      expect({ country, out: answer.marks![0].values[row][0] !== null }).toEqual({ country, out });
    }
    expect(found.filter(({ out }) => out).length).toBeGreaterThan(0);
  });
});

describe('sparklines', () => {
  it('are the last periods of each row, on its own scale or on one for all', async () => {
    for (const scale of ['own', 'common'] as const) {
      const answer = await table({
        side: ['country'],
        marks: [{ kind: 'sparkline', draw: 'line', field: 'month', periods: 12, scale, figure: false }],
      });
      const partition = scale === 'own' ? 'PARTITION BY country' : '';
      const found = await rows<{ country: string; places: number[] }>(
        `SELECT country, array_agg((v - low) / (high - low) ORDER BY month) AS places FROM (
           SELECT *, min(v) OVER (${partition}) AS low, max(v) OVER (${partition}) AS high
           FROM ${sales(`country, to_char(order_date, 'YYYY-MM') AS month`)} WHERE month > '2025-10') x GROUP BY country`,
      );
      expect(found).toHaveLength(19);
      for (const { country, places } of found) {
        const row = answer.rows.items.findIndex(({ path }) => path[0] === country);
        const [zero, ...drawn] = answer.marks![0].values[row][0]!;
        expect(zero).toBe(0);
        expect(drawn).toHaveLength(12);
        drawn.forEach((place, index) => expect(place).toBeCloseTo(places[index], 3));
      }
    }
  });

  it('and spreads name no one else’s members, and go by the records of who asks', async () => {
    const expectNothingForeign = await foreignNames(demo);
    const { body } = await (
      await demo.as('sanna-wikmark')
    )
      .post('/api/reports/where-are-we-drifting/exhibits/countries/crosstab')
      .send({ draft: false, scope: { year: ['2026'] }, side: axis, top: axis, rows: window, columns: window })
      .expect(200);
    expectNothingForeign(body);
    const { rows: shown, marks } = body as CrosstabResponse;
    const sanna = await demo.as('sanna-wikmark');
    for (const exhibit of ['first', 'service']) {
      const kpis = await sanna
        .post(`/api/reports/company-at-a-glance/exhibits/${exhibit}/kpis`)
        .send({ draft: false, scope: {} })
        .expect(200);
      expectNothingForeign(kpis.body);
      expect((kpis.body as KpiResponse)[0].rollUp!.total).toBe(4);
    }
    // The largest of what is theirs ends at the end of its scale.
    const nordic = shown.items.findIndex(({ path }) => path.length === 1);
    expect(Math.max(...marks![0].values[nordic][0]!)).toBe(1);
  });
});

describe('indicators', () => {
  const base = { direction: 'higher' as const, against: { kind: 'none' as const } };

  it('have bands that include their lower bound, as width_bucket has', async () => {
    const [{ edges }] = await rows<{ edges: number[] }>(
      `SELECT percentile_disc(ARRAY[0.2, 0.4, 0.6, 0.8]) WITHIN GROUP (ORDER BY v) AS edges FROM ${sales('country')}`,
    );
    const [far, drifting, onCourse, ahead] = edges;
    const answer = await table({ side: ['country'], indicator: { ...base, by: 'value', ahead, onCourse, drifting, far } });
    const found = await rows<{ country: string; bucket: number }>(
      `SELECT country, width_bucket(v, ARRAY[${edges.join(',')}]::float8[]) AS bucket FROM ${sales('country')}`,
    );
    const states = ['far', 'off', 'drifting', 'on', 'ahead'];
    for (const { country, bucket } of found) {
      const row = answer.rows.items.findIndex(({ path }) => path[0] === country);
      expect({ country, state: answer.states![row][0] }).toEqual({ country, state: states[bucket] });
    }
  });

  it('by rank among members go by percentile_cont of those at the same level', async () => {
    const indicator = { ...base, by: 'spread' as const, onCourse: 2 / 3, drifting: 1 / 3 };
    const answer = await table({ side: ['region', 'country'], indicator });
    const found = await rows<{ country: string; state: string }>(
      `SELECT country, CASE WHEN v >= e[2] THEN 'on' WHEN v >= e[1] THEN 'drifting' ELSE 'off' END AS state
       FROM ${sales('region, country')},
         (SELECT percentile_cont(ARRAY[1/3.0, 2/3.0]) WITHIN GROUP (ORDER BY v) AS e FROM ${sales('region, country')}) q`,
    );
    const thirds = found.map(({ country, state }) => {
      const row = answer.rows.items.findIndex(({ path }) => path[1] === country);
      expect({ country, state: answer.states![row][0] }).toEqual({ country, state });
      return state;
    });
    expect(thirds.filter((state) => state === 'on').length).toBeGreaterThan(4);
    const body = { draft: true, measure: 'net_sales', field: 'country', indicator, scope: {} };
    const { body: spread } = await agent.post(`/api/reports/${scratch.id}/exhibits/table/spread`).send(body).expect(200);
    const { counts, total, reached } = spread as SpreadResponse;
    expect(total).toBe(19);
    expect(reached).toHaveLength(19);
    for (const state of ['on', 'drifting', 'off'] as const) expect(counts[state]).toBe(thirds.filter((one) => one === state).length);
  });

  it('against the members beside a figure hold it against their average', async () => {
    const indicator = { direction: 'higher' as const, against: { kind: 'average' as const }, by: 'ratio' as const, onCourse: 1 };
    const answer = await table({ side: ['region', 'country'], indicator });
    const found = await rows<{ country: string; reached: boolean }>(
      `SELECT country, v >= avg(v) OVER (PARTITION BY region) AS reached FROM ${sales('region, country')}`,
    );
    for (const { country, reached } of found) {
      const row = answer.rows.items.findIndex(({ path }) => path[1] === country);
      expect({ country, state: answer.states![row][0] }).toEqual({ country, state: reached ? 'on' : 'off' });
    }
  });

  it('order members by their states, the worst first within each parent', async () => {
    const indicator: Indicator = {
      direction: 'higher',
      against: { kind: 'measure', measure: 'target' },
      by: 'ratio',
      onCourse: 1,
      drifting: 0.96,
    };
    const order = stateMeasure(dataset, { measure: 'net_sales', indicator })!;
    await table({ side: ['region', 'country'], indicator });
    const body = { draft: true, scope: {}, side: { ...axis, order: { by: 'measure', measure: order.name, at: [], direction: 'asc' } } };
    const { body: answer } = await agent
      .post(`/api/reports/${scratch.id}/exhibits/table/crosstab`)
      .send({ ...body, top: axis, rows: window, columns: window })
      .expect(200);
    const found = await rows<{ region: string; country: string }>(
      `SELECT region, country FROM
         (SELECT region, country, sum(quantity * unit_price - discount) AS v FROM imported.order_lines o JOIN imported.showrooms s USING (showroom_id)
          WHERE status NOT IN ('Cancelled', 'Returned') GROUP BY region, country) s
         JOIN (SELECT country, sum(revenue) AS goal FROM imported.targets GROUP BY country) t USING (country)
         ORDER BY sum(v) OVER (PARTITION BY region) / sum(goal) OVER (PARTITION BY region), region, v / goal`,
    );
    const shown = (answer as CrosstabResponse).rows.items.filter(({ path }) => path.length === 2).map(({ path }) => path);
    expect(shown).toEqual(found.map(({ region, country }) => [region, country]));
  });

  it('roll up: how many members are off course, the worst first, and their trend', async () => {
    const kpi = {
      ...{ id: 'sales', label: 'Net sales', measure: 'net_sales', words: 'of target', show: 'large' },
      ...{ trend: { field: 'month', periods: 6 }, rollUp: { field: 'country' } },
      indicator: { against: { kind: 'measure', measure: 'target' }, by: 'ratio', onCourse: 1, drifting: 0.96, direction: 'higher' },
    };
    await scratch.show(kpiStripSchema.parse({ kind: 'kpis', id: 'strip', title: 'KPIs', kpis: [kpi] }));
    const { body } = await agent
      .post(`/api/reports/${scratch.id}/exhibits/strip/kpis`)
      .send({ draft: true, scope: { year: ['2026'] } })
      .expect(200);
    const [{ rollUp, trend, limits, target }] = body as KpiResponse;
    const found = await rows<{ country: string; reached: number }>(
      `SELECT country, v / t.goal AS reached FROM
         (SELECT country, sum(quantity * unit_price - discount)::float8 AS v FROM imported.order_lines o JOIN imported.showrooms s USING (showroom_id)
          WHERE status NOT IN ('Cancelled', 'Returned') AND order_date >= '2026-01-01' GROUP BY country) s
         JOIN (SELECT country, sum(revenue)::float8 AS goal FROM imported.targets WHERE to_char(month, 'YYYY') = '2026' GROUP BY country) t
         USING (country) ORDER BY reached`,
    );
    const off = found.filter(({ reached }) => reached < 0.96);
    expect(rollUp!.total).toBe(19);
    expect(rollUp!.counts.off).toBe(off.length);
    expect(rollUp!.off.map(({ member }) => member).sort()).toEqual(off.map(({ country }) => country).sort());
    expect(rollUp!.off[0].member).toBe(off[0].country);
    expect(trend).toHaveLength(6);
    expect(trend!.at(-1)!.label).toContain('October');
    expect(limits).toEqual([target, target! * 0.96]);
    const tried = { draft: true, measure: 'net_sales', field: 'country', indicator: kpi.indicator, scope: { year: ['2026'] } };
    const { body: spread } = await agent.post(`/api/reports/${scratch.id}/exhibits/strip/spread`).send(tried).expect(200);
    expect((spread as SpreadResponse).counts).toEqual(rollUp!.counts);
  });
});
