import type { Cube } from '@bold-compass/core/crosstab';
import type { Store } from '@bold-compass/core/engine';
import { datasetSchema, type Dataset, type Filter } from '@bold-compass/core/model';
import { cubeOf, withFormulas } from '@bold-compass/core/testing/formulas';
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { testDatabase, type TestDatabase } from '../../demo/testing/database.ts';
import { loadStore } from '../data/loader.ts';
import { runQueryInDatabase } from './runner.ts';

/**
 * Formulas of measures: the columnar runner against PostgreSQL's answers to the same questions, and both against window
 * functions written by hand (SQL:2003, 7.11 and 10.9).
 */

const period = (name: string, kind = name): object => ({ name, label: name, plural: `${name}s`, period: kind });

const dataset: Dataset = datasetSchema.parse({
  schemaVersion: 1,
  name: 'shops',
  label: 'Shops',
  dimensions: [
    {
      ...{ kind: 'table', name: 'places', label: 'Places', table: 'places', key: 'shop' },
      levels: [
        { name: 'region', label: 'Region', plural: 'regions', column: 'region', type: 'text' },
        { name: 'country', label: 'Country', plural: 'countries', column: 'country', type: 'text' },
        { name: 'shop', label: 'Shop', plural: 'shops', column: 'shop', type: 'text' },
      ],
    },
    {
      ...{ kind: 'calendar', name: 'calendar', label: 'Calendar', yearStart: 4 },
      levels: [
        ...['year', 'quarter', 'month', 'day', 'iso_week', 'weekday', 'fiscal_year', 'fiscal_quarter', 'week_year', 'week'].map((name) =>
          period(name),
        ),
      ],
    },
  ],
  facts: [
    {
      ...{ name: 'sales', label: 'Sales', record: { one: 'sale', many: 'sales' }, table: 'sales' },
      links: [
        { dimension: 'places', column: 'shop' },
        { dimension: 'calendar', column: 'sold' },
      ],
      fields: [
        { name: 'channel', label: 'Channel', column: 'channel', type: 'text' },
        { name: 'sold', label: 'Sold', column: 'sold', type: 'date' },
        { name: 'amount', label: 'Amount', column: 'amount', type: 'decimal', scale: 2 },
      ],
    },
    {
      ...{ name: 'goals', label: 'Goals', record: { one: 'goal', many: 'goals' }, table: 'goals' },
      links: [
        { dimension: 'places', column: 'country', level: 'country' },
        { dimension: 'calendar', column: 'month', level: 'month' },
      ],
      fields: [{ name: 'goal_amount', label: 'Goal', column: 'goal', type: 'integer' }],
    },
  ],
  measures: [
    { name: 'net', label: 'Net', formula: 'sum(amount)' },
    { name: 'goal', label: 'Goal', formula: 'sum(goal_amount)' },
    { name: 'sales_count', label: 'Sales', formula: 'count()', fact: 'sales' },
  ],
});

const SHOPS = [
  ['North', 'Norway', 'Oslo'],
  ['North', 'Norway', 'Bergen'],
  ['North', 'Sweden', 'Lund'],
  ['South', 'Spain', 'Jaen'],
  ['South', 'Italy', 'Pisa'],
];
const COUNTRIES = [...new Set(SHOPS.map(([, country]) => country))];

interface Sale {
  shop: string | null;
  sold: string | null;
  channel: string;
  amount: number | null;
}
const dayText = fc
  .integer({ min: 0, max: 1_200 })
  .map((offset) => new Date(Date.UTC(2023, 0, 9) + offset * 86_400_000).toISOString().slice(0, 10));
const orNull = <Value>(arbitrary: fc.Arbitrary<Value>): fc.Arbitrary<Value | null> => fc.option(arbitrary, { freq: 9, nil: null });
const sale: fc.Arbitrary<Sale> = fc.record({
  shop: orNull(fc.constantFrom(...SHOPS.map(([, , shop]) => shop))),
  sold: orNull(dayText),
  channel: fc.constantFrom('Online', 'Shop'),
  amount: orNull(fc.integer({ min: -2_000, max: 99_999 })),
});
const goalMonth = fc.integer({ min: 0, max: 39 }).map((month) => new Date(Date.UTC(2023, month, 1)).toISOString().slice(0, 10));
const goal = fc.record({ country: fc.constantFrom(...COUNTRIES), month: goalMonth, goal: fc.integer({ min: 1, max: 500 }) });

/** Formulas of measures, nested in each other. */
const formula: fc.Arbitrary<string> = fc
  .letrec<{ m: string; c: string }>((tie) => ({
    m: fc.oneof(
      { maxDepth: 3, depthSize: 'small' },
      fc.constantFrom(
        ...['net', 'net', 'goal', 'sales_count', 'count_distinct(shop)', 'median(amount)', "sum(amount where channel = 'Online')"],
        ...['avg(amount)', 'max(amount)', 'percentile(amount, 0.9)', 'periods(month)', 'periods(day)'],
        ...['closing(amount)', 'opening(amount)', "closing(amount where channel = 'Shop')"],
        ...['running(median(amount))', 'running(stddev(amount), along: across)', 'running(percentile(amount, 0.25) at month)'],
      ),
      fc.tuple(tie('m'), fc.constantFrom('+', '-', '*', '/'), tie('m')).map(([a, op, b]) => `(${a} ${op} ${b})`),
      fc
        .tuple(tie('m'), fc.constantFrom('region', 'country', 'shop', 'year', 'quarter', 'month', 'parent', 'row', 'column', 'total'))
        .map(([m, place]) => `(${m} at ${place})`),
      fc
        .tuple(tie('m'), fc.constantFrom('1 year', '2 years', '1 quarter', '3 months', '1 week', '10 days'))
        .map(([m, duration]) => `(${m} back ${duration})`),
      fc.tuple(fc.constantFrom('share', 'unfiltered', 'rank'), tie('m')).map(([fn, m]) => `${fn}(${m})`),
      fc.tuple(tie('m'), fc.constantFrom('year', 'quarter', 'month', 'fiscal_year')).map(([m, unit]) => `to_date(${m}, ${unit})`),
      fc.tuple(tie('m'), fc.constantFrom('3 months', '1 year', '14 days')).map(([m, length]) => `rolling(${m}, ${length})`),
      fc
        .tuple(
          fc.constantFrom('avg', 'sum', 'max', 'count', 'median', 'stddev'),
          tie('m'),
          fc.constantFrom('month', 'shop', 'country', 'year', '(month, country)'),
        )
        .map(([fn, m, level]) => `${fn}(${m} per ${level})`),
      fc.tuple(tie('c'), tie('m'), tie('m')).map(([c, a, b]) => `if(${c}, ${a}, ${b})`),
      fc.tuple(fc.constantFrom('previous', 'difference'), tie('m')).map(([fn, m]) => `${fn}(${m})`),
      tie('m').map((m) => `moving_avg(${m}, 3)`),
    ),
    c: fc.oneof(
      // Equal floats are a matter of the last digit, so that limits lie where no value is.
      fc
        .tuple(tie('m'), fc.constantFrom('>', '<='), fc.constantFrom('0.1234567', '101.00001234', '-7.7654321'))
        .map(([a, op, b]) => `${a} ${op} ${b}`),
      fc.constantFrom('is_total()', 'is_total(down)', 'level_is(country)', 'level_is(month)'),
    ),
  }))
  .m.filter((text) => !['net', 'goal', 'sales_count'].includes(text));

const layout: fc.Arbitrary<{ side: string[]; top: string[] }> = fc.record({
  side: fc.constantFrom<string[][]>(
    ['region', 'country', 'shop'],
    ['shop'],
    ['country', 'channel'],
    ['year'],
    [],
    ['region', 'channel', 'country'],
  ),
  top: fc.constantFrom<string[][]>(
    ['year', 'quarter', 'month'],
    ['month'],
    ['iso_week'],
    ['fiscal_year', 'month'],
    [],
    ['weekday'],
    ['channel'],
    ['year', 'channel'],
  ),
});
const scope: fc.Arbitrary<Filter | null> = orNull(
  fc.oneof(
    fc.tuple(dayText, dayText).map(([a, b]): Filter => ({ op: 'between', field: 'day', low: a < b ? a : b, high: a < b ? b : a })),
    fc.constantFrom<Filter>(
      { op: 'in', field: 'year', values: ['2024'] },
      { op: 'in', field: 'month', values: ['2024-02', '2024-03', '2025-01'] },
      { op: 'in', field: 'region', values: ['North'] },
      { op: 'in', field: 'weekday', values: ['1', '2'] },
    ),
  ),
);

/** Every cell of a cross-tab, by its members. */
function cellsOf(cube: Cube, measure: string): Map<string, number | string | null> {
  const cells = new Map<string, number | string | null>();
  for (const side of cube.side.nodes)
    for (const top of cube.top.nodes)
      cells.set(JSON.stringify([cube.side.path(side.id), cube.top.path(top.id)]), cube.cell(measure, side.id, top.id));
  return cells;
}

function agree(ours: number | string | null | undefined, theirs: number | string | null | undefined): boolean {
  if (typeof ours !== 'number' || typeof theirs !== 'number') return (ours ?? null) === (theirs ?? null);
  return Math.abs(ours - theirs) <= 1e-9 * Math.max(1, Math.abs(ours), Math.abs(theirs));
}

describe('formulas of measures', () => {
  let database: TestDatabase;
  let client: pg.Client;

  beforeAll(async () => {
    database = await testDatabase('empty');
    client = new pg.Client({ connectionString: database.url });
    await client.connect();
    await client.query(`
      CREATE SCHEMA imported;
      CREATE TABLE imported.places (shop text PRIMARY KEY, region text, country text);
      CREATE TABLE imported.sales (shop text, sold date, channel text, amount numeric(12,2));
      CREATE TABLE imported.goals (country text, month date, goal bigint);`);
    await client.query('INSERT INTO imported.places SELECT * FROM unnest($1::text[], $2::text[], $3::text[])', [
      SHOPS.map(([, , shop]) => shop),
      SHOPS.map(([region]) => region),
      SHOPS.map(([, country]) => country),
    ]);
  });
  afterAll(async () => {
    await client.end();
    await database.drop();
  });

  async function load(sales: Sale[], goals: { country: string; month: string; goal: number }[]): Promise<Store> {
    await client.query('TRUNCATE imported.sales, imported.goals');
    await client.query('INSERT INTO imported.sales SELECT * FROM unnest($1::text[], $2::date[], $3::text[], $4::numeric[])', [
      sales.map((one) => one.shop),
      sales.map((one) => one.sold),
      sales.map((one) => one.channel),
      sales.map((one) => (one.amount === null ? null : (one.amount / 100).toFixed(2))),
    ]);
    await client.query('INSERT INTO imported.goals SELECT * FROM unnest($1::text[], $2::date[], $3::bigint[])', [
      goals.map((one) => one.country),
      goals.map((one) => one.month),
      goals.map((one) => one.goal),
    ]);
    return loadStore(client, dataset, 'shops@1');
  }

  it('are the same by columns and by PostgreSQL, in every cell of random cross-tabs of random records', async () => {
    let withValue = 0;
    await fc.assert(
      fc.asyncProperty(
        fc.array(sale, { minLength: 30, maxLength: 90 }),
        fc.array(goal, { maxLength: 20 }),
        fc.array(fc.tuple(formula, layout, scope), { minLength: 6, maxLength: 10 }),
        async (sales, goals, asked) => {
          const store = await load(sales, goals);
          for (const [text, { side, top }, filter] of asked) {
            const own = withFormulas(dataset, [text], 'sales');
            const shape = { side, top, measures: [text] };
            const ours = cellsOf(await cubeOf(own, store, shape, filter), text);
            const theirs = cellsOf(await cubeOf(own, store, shape, filter, (query) => runQueryInDatabase(client, own, query)), text);
            for (const key of new Set([...ours.keys(), ...theirs.keys()])) {
              if (ours.get(key) !== null) withValue++;
              if (!agree(ours.get(key), theirs.get(key)))
                expect.fail(`${text} in ${key} under ${JSON.stringify(filter)}: columnar ${ours.get(key)}, PostgreSQL ${theirs.get(key)}`);
            }
          }
        },
      ),
      { numRuns: 60, seed: 20261125, endOnFailure: true },
    );
    expect(withValue).toBeGreaterThan(4_000);
  });

  describe('equal window functions', () => {
    /** 400 sales over three years, made by a fixed rule. */
    const sales = Array.from({ length: 400 }, (_, index): Sale => ({
      shop: SHOPS[(index * 7) % 5][2],
      sold: new Date(Date.UTC(2023, 0, 1) + ((index * 37) % 1_095) * 86_400_000).toISOString().slice(0, 10),
      channel: index % 3 === 0 ? 'Online' : 'Shop',
      amount: ((index * 7_919) % 50_000) + 100,
    }));
    const FACTS = `sales_of AS (SELECT p.region, p.country, s.shop, to_char(s.sold, 'YYYY') AS year, to_char(s.sold, 'YYYY-MM') AS month, s.sold, s.channel, s.amount
      FROM imported.sales AS s JOIN imported.places AS p USING (shop))`;

    async function expectEqual(
      text: string,
      shape: { side: string[]; top: string[] },
      sql: string,
      filter: Filter | null = null,
    ): Promise<void> {
      const store = await load(sales, []);
      const own = withFormulas(dataset, [text], 'sales');
      const cube = await cubeOf(own, store, { ...shape, measures: [text] }, filter);
      const { rows } = (await client.query(`WITH ${FACTS} ${sql}`)) as { rows: { side: string[]; top: string[]; value: string | null }[] };
      expect(rows.length).toBeGreaterThan(0);
      for (const { side, top, value } of rows) {
        const ours = cube.value(text, cube.side.find(side)!.id, cube.top.find(top)!.id);
        const wanted = value === null ? Number.NaN : Number(value);
        if (Number.isNaN(wanted)) expect(ours, `${text} of ${side.join()} in ${top.join()}`).toBeNaN();
        else expect(ours, `${text} of ${side.join()} in ${top.join()}`).toBeCloseTo(wanted, 8);
      }
    }

    it('rank, among all of a level and among siblings', async () => {
      const shape = { side: ['region', 'country', 'shop'], top: ['year'] };
      const grouped = `SELECT region, country, shop, year, sum(amount) AS net FROM sales_of GROUP BY 1, 2, 3, 4`;
      await expectEqual(
        'rank(net)',
        shape,
        `SELECT ARRAY[region, country, shop] AS side, ARRAY[year] AS top, rank() OVER (PARTITION BY year ORDER BY net DESC) AS value FROM (${grouped}) AS g`,
      );
      await expectEqual(
        'rank(net, within: parent, order: asc)',
        shape,
        `SELECT ARRAY[region, country, shop] AS side, ARRAY[year] AS top, rank() OVER (PARTITION BY year, region, country ORDER BY net) AS value FROM (${grouped}) AS g`,
      );
    });

    it('running totals, averages and shares down a column', async () => {
      const shape = { side: ['shop'], top: ['year'] };
      const over = 'OVER (PARTITION BY year ORDER BY shop COLLATE "C")';
      const grouped = 'SELECT shop, year, sum(amount) AS net, count(*) AS n FROM sales_of GROUP BY 1, 2';
      const select = (value: string): string => `SELECT ARRAY[shop] AS side, ARRAY[year] AS top, ${value} AS value FROM (${grouped}) AS g`;
      await expectEqual('running(net)', shape, select(`sum(net) ${over}`));
      await expectEqual(
        'running(count_distinct(channel))',
        shape,
        `SELECT ARRAY[s.shop] AS side, ARRAY[s.year] AS top, (SELECT count(DISTINCT o.channel) FROM imported.sales AS o WHERE o.shop COLLATE "C" <= s.shop COLLATE "C" AND to_char(o.sold, 'YYYY') = s.year) AS value FROM (SELECT DISTINCT shop, year FROM sales_of) AS s`,
      );
      for (const [ours, theirs] of [
        ['median(amount)', 'percentile_cont(0.5) WITHIN GROUP (ORDER BY amount)'],
        [
          "percentile(amount, 0.9 where channel = 'Shop')",
          "percentile_cont(0.9) WITHIN GROUP (ORDER BY amount) FILTER (WHERE channel = 'Shop')",
        ],
        ['mode(amount)', 'mode() WITHIN GROUP (ORDER BY amount)'],
        ['stddev(amount)', 'stddev_samp(amount)'],
        ['variance(amount)', 'var_samp(amount)'],
        ['stddev_pop(amount)', 'stddev_pop(amount)'],
        ['var_pop(amount)', 'var_pop(amount)'],
      ])
        // Ordered sets are no window functions: each member asks for its records and those of the members before it.
        await expectEqual(
          `running(${ours})`,
          { side: ['region', 'country'], top: ['year'] },
          `SELECT ARRAY[region, country] AS side, ARRAY[year] AS top, (SELECT ${theirs} FROM sales_of AS s WHERE s.region = g.region AND s.year = g.year AND s.country COLLATE "C" <= g.country COLLATE "C") AS value FROM (SELECT DISTINCT region, country, year FROM sales_of) AS g`,
        );
      await expectEqual('running(avg(amount))', shape, select(`sum(net) ${over} / sum(n) ${over}`));
      await expectEqual('cumulative_share(net)', shape, select(`sum(net) ${over} / sum(net) OVER (PARTITION BY year)`));
    });

    it('neighbours across the months', async () => {
      const shape = { side: [], top: ['year', 'month'] };
      const grouped = 'SELECT year, month, sum(amount) AS net FROM sales_of GROUP BY 1, 2';
      const select = (value: string): string =>
        `SELECT ARRAY[]::text[] AS side, ARRAY[year, month] AS top, ${value} AS value FROM (${grouped}) AS g`;
      await expectEqual('previous(net)', shape, select('lag(net) OVER (ORDER BY month)'));
      await expectEqual('difference(net)', shape, select('net - lag(net) OVER (ORDER BY month)'));
      await expectEqual('moving_avg(net, 3)', shape, select('avg(net) OVER (ORDER BY month ROWS 2 PRECEDING)'));
    });

    it('windows of months, and from the start of the year', async () => {
      const shape = { side: ['country'], top: ['month'] };
      const grouped = 'SELECT country, month, sum(amount) AS net FROM sales_of GROUP BY 1, 2';
      const whole = `SELECT c.country, m.month, net FROM (SELECT DISTINCT country FROM sales_of) AS c CROSS JOIN (SELECT DISTINCT month FROM sales_of) AS m LEFT JOIN (${grouped}) AS g USING (country, month)`;
      const select = (value: string, where: string): string =>
        `SELECT ARRAY[country] AS side, ARRAY[month] AS top, value FROM (SELECT country, month, ${value} AS value FROM (${whole}) AS w) AS v WHERE ${where}`;
      await expectEqual('to_date(net, year)', shape, select('sum(net) OVER (PARTITION BY country, left(month, 4) ORDER BY month)', 'true'));
      await expectEqual(
        'rolling(net, 3 months)',
        shape,
        select('sum(net) OVER (PARTITION BY country ORDER BY month ROWS 2 PRECEDING)', "month BETWEEN '2023-03' AND '2025-11'"),
      );
      await expectEqual(
        'net back 1 year',
        shape,
        select('lag(net, 12) OVER (PARTITION BY country ORDER BY month)', "month BETWEEN '2024-01' AND '2025-11'"),
      );
    });

    it('distinct counts, medians and percentiles over windows, from the records', async () => {
      const month = "SELECT DISTINCT month, (month || '-01')::date AS first FROM sales_of";
      await expectEqual(
        'rolling(count_distinct(shop), 3 months)',
        { side: [], top: ['month'] },
        `SELECT ARRAY[]::text[] AS side, ARRAY[m.month] AS top, (SELECT count(DISTINCT shop) FROM sales_of WHERE sold >= m.first - interval '2 months' AND sold < m.first + interval '1 month') AS value FROM (${month}) AS m WHERE m.month BETWEEN '2023-03' AND '2025-11'`,
      );
      await expectEqual(
        'to_date(percentile(amount, 0.9), year)',
        { side: [], top: ['month'] },
        `SELECT ARRAY[]::text[] AS side, ARRAY[m.month] AS top, (SELECT percentile_cont(0.9) WITHIN GROUP (ORDER BY amount) FROM sales_of WHERE sold >= date_trunc('year', m.first) AND sold < m.first + interval '1 month') AS value FROM (${month}) AS m`,
      );
    });

    it('aggregates over members', async () => {
      const shape = { side: ['region'], top: ['year'] };
      const select = (value: string): string =>
        `SELECT ARRAY[region] AS side, ARRAY[year] AS top, ${value} AS value FROM (SELECT region, year, month, country, sum(amount) AS net FROM sales_of GROUP BY 1, 2, 3, 4) AS g GROUP BY region, year`;
      await expectEqual('avg(net per (month, country))', shape, select('avg(net)'));
      await expectEqual('percentile(net per (month, country), 0.9)', shape, select('percentile_cont(0.9) WITHIN GROUP (ORDER BY net)'));
      await expectEqual('stddev(net per (month, country))', shape, select('stddev_samp(net)'));
      await expectEqual('count(per (month, country) where net > 300)', shape, select('count(*) FILTER (WHERE net > 300)'));
    });

    it('shares of parent, level, row, column and total', async () => {
      const shape = { side: ['region', 'country'], top: ['year'] };
      const grouped = 'SELECT region, country, year, sum(amount) AS net FROM sales_of GROUP BY 1, 2, 3';
      const select = (whole: string): string =>
        `SELECT ARRAY[region, country] AS side, ARRAY[year] AS top, net / ${whole} AS value FROM (${grouped}) AS g`;
      await expectEqual('share(net)', shape, select('sum(net) OVER (PARTITION BY region, year)'));
      await expectEqual('share(net, of: region)', shape, select('sum(net) OVER (PARTITION BY region, year)'));
      await expectEqual('share(net, of: row)', shape, select('sum(net) OVER (PARTITION BY region, country)'));
      await expectEqual('share(net, of: column)', shape, select('sum(net) OVER (PARTITION BY year)'));
      await expectEqual('share(net, of: total)', shape, select('sum(net) OVER ()'));
      // A level that is not on the axis is reached through its hierarchy.
      await expectEqual(
        'share(net, of: region)',
        { side: ['shop'], top: [] },
        'SELECT ARRAY[shop] AS side, ARRAY[]::text[] AS top, net / sum(net) OVER (PARTITION BY region) AS value FROM (SELECT region, shop, sum(amount) AS net FROM sales_of GROUP BY 1, 2) AS g',
      );
    });

    it('balances: the first and the last date with records of each column, for all its rows alike', async () => {
      const shape = { side: ['country'], top: ['month'] };
      for (const [fn, edge] of [
        ['opening', 'min'],
        ['closing', 'max'],
      ])
        await expectEqual(
          `${fn}(amount)`,
          shape,
          `, days AS (SELECT month, ${edge}(sold) AS sold FROM sales_of GROUP BY month) SELECT ARRAY[country] AS side, ARRAY[month] AS top, sum(amount) AS value FROM sales_of JOIN days USING (month, sold) GROUP BY country, month`,
        );
      // What else stands across the top makes the column too.
      const days = ', days AS (SELECT year, country, max(sold) AS sold FROM sales_of GROUP BY year, country)';
      await expectEqual(
        'closing(amount)',
        { side: ['shop'], top: ['year', 'country'] },
        `${days} SELECT ARRAY[shop] AS side, ARRAY[year, country] AS top, sum(amount) AS value FROM sales_of JOIN days USING (year, country, sold) GROUP BY shop, year, country`,
      );
      await expectEqual(
        'closing(amount)',
        { side: ['year'], top: ['country'] },
        `${days} SELECT ARRAY[year] AS side, ARRAY[country] AS top, sum(amount) AS value FROM sales_of JOIN days USING (year, country, sold) GROUP BY year, country`,
      );
      await expectEqual(
        'closing(amount) back 1 year',
        { side: [], top: ['year'] },
        `, days AS (SELECT year, max(sold) AS sold FROM sales_of GROUP BY year) SELECT ARRAY[]::text[] AS side, ARRAY[(s.year::int + 1)::text] AS top, sum(amount) AS value FROM sales_of AS s JOIN days USING (year, sold) WHERE s.year = '2023' GROUP BY s.year`,
      );
    });

    it('unfiltered, under a scope', async () => {
      const filter: Filter = { op: 'in', field: 'country', values: ['Norway'] };
      await expectEqual(
        'net / unfiltered(net at total)',
        { side: ['country'], top: ['year'] },
        "SELECT ARRAY[country] AS side, ARRAY[year] AS top, sum(amount) / (SELECT sum(amount) FROM sales_of) AS value FROM sales_of WHERE country = 'Norway' GROUP BY country, year",
        filter,
      );
    });
  });
});
