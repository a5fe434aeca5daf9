import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { ColumnsData, cubeFor, type AnswerContext } from '@bold-compass/core/answers';
import { parseIsoDate } from '@bold-compass/core/calendar';
import { columnFrom, type Store } from '@bold-compass/core/engine';
import { axisOver, datasetSchema, type Dataset } from '@bold-compass/core/model';
import { splitQuery } from '@bold-compass/server/data';
import { DuckDBInstance } from '@duckdb/node-api';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';

/**
 * Calculated measures over two million records, by countries and months: side by side with DuckDB and PostgreSQL, which say the
 * same with window functions. `npm run bench` runs it; answers are compared before anything is timed.
 */

const RECORDS = Number(process.argv[2] ?? 2_000_000);
const COUNTRIES = 40;
const ROUNDS = 7;
const FIRST = parseIsoDate('2023-01-01')!;
const DAYS = parseIsoDate('2026-12-31')! - FIRST + 1;
const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set: start this by `npm run bench`.');
const out = (text: string): void => void process.stdout.write(`${text}\n`);

/** The same records each time: a linear congruential generator with the constants of Numerical Recipes. */
let state = 7;
const next = (below: number): number => {
  state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
  return Math.floor((state / 4_294_967_296) * below);
};
const shared = (valueAt: () => number): Int32Array => {
  const values = new Int32Array(new SharedArrayBuffer(RECORDS * 4));
  for (let row = 0; row < RECORDS; row++) values[row] = valueAt();
  return values;
};
const [country, day, amount] = [shared(() => next(COUNTRIES)), shared(() => next(DAYS)), shared(() => next(500_000))];
const nameOf = (number: number): string => `country ${String(number).padStart(2, '0')}`;

/** Each measure in our words and as a window over the months of each country. */
const MEASURES: { formula: string; sql: string }[] = [
  { formula: 'share(net, of: column)', sql: 'net * 1.0 / sum(net) OVER (PARTITION BY month)' },
  { formula: 'net back 1 year', sql: 'lag(net, 12) OVER (PARTITION BY country ORDER BY month)' },
  { formula: 'to_date(net, year)', sql: 'sum(net) OVER (PARTITION BY country, left(month, 4) ORDER BY month)' },
  {
    formula: 'rolling(net, 3 months)',
    sql: `CASE WHEN month >= '2023-03' THEN sum(net) OVER (PARTITION BY country ORDER BY month ROWS 2 PRECEDING) END`,
  },
  { formula: 'rank(net)', sql: 'rank() OVER (PARTITION BY month ORDER BY net DESC)' },
];

const dataset: Dataset = datasetSchema.parse({
  schemaVersion: 1,
  name: 'formulas',
  label: 'Formulas',
  dimensions: [
    {
      ...{ kind: 'table', name: 'places', label: 'Places', table: 'places', key: 'id' },
      levels: [{ name: 'country', label: 'Country', plural: 'countries', column: 'country', type: 'text' }],
    },
    {
      ...{ kind: 'calendar', name: 'calendar', label: 'Calendar' },
      levels: (['year', 'month', 'day'] as const).map((period) => ({ name: period, label: period, plural: `${period}s`, period })),
    },
  ],
  facts: [
    {
      ...{ name: 'sales', label: 'Sales', record: { one: 'sale', many: 'sales' }, table: 'sales' },
      links: [
        { dimension: 'places', column: 'place' },
        { dimension: 'calendar', column: 'sold' },
      ],
      fields: [{ name: 'amount', label: 'Amount', column: 'amount', type: 'integer' }],
    },
  ],
  measures: [
    { name: 'net', label: 'Net', formula: 'sum(amount)' },
    ...MEASURES.map(({ formula }) => ({ name: formula, label: formula, formula })),
  ],
});
const store: Store = {
  ...{ version: 'formulas@1', calendar: { first: FIRST, days: DAYS }, rollups: {} },
  dimensions: {
    places: {
      rows: COUNTRIES,
      columns: {
        country: columnFrom(
          'text',
          Array.from({ length: COUNTRIES }, (_, one) => nameOf(one)),
        ),
      },
    },
  },
  facts: {
    sales: {
      rows: RECORDS,
      columns: { amount: { kind: 'number', type: 'integer', values: amount, scale: 0, missing: null } },
      links: { places: country.map((one) => one + 1), calendar: day.map((one) => one + 1) },
    },
  },
};
for (const [name, link] of Object.entries(store.facts.sales.links)) {
  const own = new Int32Array(new SharedArrayBuffer(link.byteLength));
  own.set(link);
  store.facts.sales.links[name] = own;
}

/** As the server answers: scans are split over threads. */
class SplitData extends ColumnsData {
  override query = (query: Parameters<ColumnsData['query']>[0]) => splitQuery(dataset, store, query);
}
const context: AnswerContext = {
  ...{ dataset, data: new SplitData(dataset, store), tables: { get: () => undefined, set: () => undefined, delete: () => undefined } },
  ...{ locale: 'en-GB', report: () => Promise.resolve(null) },
};

type Cells = Map<string, number | null>;
async function ours(measures: string[]): Promise<Cells[]> {
  const spec = { side: axisOver(['country']), top: axisOver(['month']), cells: measures.map((measure) => ({ measure })), filter: null };
  const cube = await cubeFor(context, spec, null, { side: 1, top: 1 });
  return measures.map((measure) => {
    const cells: Cells = new Map();
    for (const row of cube.side.nodes.slice(1))
      for (const column of cube.top.nodes.slice(1)) {
        const value = cube.value(measure, row.id, column.id);
        cells.set(`${row.member} ${column.member}`, Number.isNaN(value) ? null : value);
      }
    return cells;
  });
}

const GROUPED = `SELECT country, month, sum(amount) AS net FROM (SELECT c.country, strftime_month AS month, amount FROM sales JOIN countries AS c USING (place)) AS s GROUP BY country, month`;
const monthOf = { duck: `strftime(DATE '2023-01-01' + day, '%Y-%m')`, pg: `to_char(DATE '2023-01-01' + day, 'YYYY-MM')` };
const sqlOf = (engine: keyof typeof monthOf, values: string[]): string =>
  `SELECT country, month, ${values.map((value, index) => `${value} AS v${index}`).join(', ')} FROM (${GROUPED.replace('strftime_month', monthOf[engine])}) AS g`;

const duck = await (await DuckDBInstance.create(':memory:', { threads: '2' })).connect();
await duck.run('CREATE TABLE countries (place INTEGER, country VARCHAR)');
await duck.run(`INSERT INTO countries VALUES ${Array.from({ length: COUNTRIES }, (_, one) => `(${one}, '${nameOf(one)}')`).join(', ')}`);
await duck.run('CREATE TABLE sales (place INTEGER, day INTEGER, amount INTEGER)');
const appender = await duck.createAppender('sales');
for (let row = 0; row < RECORDS; row++) {
  for (const column of [country, day, amount]) appender.appendInteger(column[row]);
  appender.endRow();
}
appender.closeSync();

const client = new pg.Client({ connectionString: url });
await client.connect();
await client.query(
  'CREATE TEMP TABLE countries (place integer, country text COLLATE "C"); CREATE TEMP TABLE sales (place integer, day integer, amount bigint)',
);
await client.query(
  `INSERT INTO countries VALUES ${Array.from({ length: COUNTRIES }, (_, one) => `(${one}, '${nameOf(one)}')`).join(', ')}`,
);
function* lines(): Generator<string> {
  for (let from = 0; from < RECORDS; from += 5_000) {
    let chunk = '';
    for (let row = from; row < Math.min(from + 5_000, RECORDS); row++) chunk += `${country[row]},${day[row]},${amount[row]}\n`;
    yield chunk;
  }
}
await pipeline(Readable.from(lines()), client.query(copyFrom('COPY sales FROM STDIN (FORMAT csv)')));
await client.query('ANALYZE sales');

const duckRows = async (values: string[]): Promise<unknown[][]> => (await duck.runAndReadAll(sqlOf('duck', values))).getRowsJson();
const pgRows = async (values: string[]): Promise<unknown[][]> =>
  ((await client.query({ text: sqlOf('pg', values), rowMode: 'array' })) as { rows: unknown[][] }).rows;

function differences(own: Cells[], rows: unknown[][]): number {
  let different = 0;
  for (const [name, month, ...values] of rows)
    values.forEach((value, index) => {
      const mine = own[index].get(`${String(name)} ${String(month)}`) ?? null;
      const theirs = value === null ? null : Number(value);
      const isSame = mine === theirs || (mine !== null && theirs !== null && Math.abs(mine - theirs) <= 1e-12 * Math.abs(theirs));
      if (!isSame) different++;
    });
  return different;
}

async function median(ask: () => Promise<unknown>, rounds: number): Promise<number> {
  const times: number[] = [];
  for (let round = 0; round < rounds; round++) {
    const started = performance.now();
    await ask();
    times.push(performance.now() - started);
  }
  return times.toSorted((a, b) => a - b)[Math.floor(rounds / 2)];
}

out(`\nCalculated measures over ${RECORDS.toLocaleString('en-GB')} records, ${COUNTRIES} countries by 48 months.\n`);
out('| formula | Bold Compass | DuckDB, 2 threads | PostgreSQL | answers equal |');
out('|---|---|---|---|---|');
let failed = false;
for (const asked of [...MEASURES.map((one) => [one]), MEASURES]) {
  const formulas = asked.map(({ formula }) => formula);
  const values = asked.map(({ sql }) => sql);
  const own = await ours(formulas);
  const unequal = differences(own, await duckRows(values)) + differences(own, await pgRows(values));
  failed ||= unequal > 0;
  const times = [
    await median(() => ours(formulas), ROUNDS),
    await median(() => duckRows(values), ROUNDS),
    await median(() => pgRows(values), 3),
  ];
  out(
    `| ${asked.length > 1 ? 'all of them' : `\`${formulas[0]}\``} | ${times[0].toFixed(0)} ms | ${times[1].toFixed(0)} ms, ${(times[1] / times[0]).toFixed(1)} × | ${times[2].toFixed(0)} ms, ${(times[2] / times[0]).toFixed(1)} × | ${unequal === 0 ? 'yes' : `NO: ${unequal} differ`} |`,
  );
}
await client.end();
duck.closeSync();
process.exit(failed ? 1 : 0);
