import { once } from 'node:events';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { runQuery, type Store } from '@bold-compass/core/engine';
import { splitQuery } from '@bold-compass/server/data';
import { compileQuery } from '@bold-compass/server/sql';
import { DuckDBInstance } from '@duckdb/node-api';
import { op, table, type ColumnTable } from 'arquero';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import {
  monthLevels,
  MONTHS,
  placeLevels,
  PLACES,
  setKey,
  SIDE,
  starDataset,
  starQuery,
  starStore,
  sumsOf,
  TOP,
  type StarRows,
  type Sums,
} from './star.ts';

/** One engine with the star loaded: `ask` answers the query, `read` turns the answer into sums that can be compared. */
export interface LoadedEngine {
  name: string;
  ask(): Promise<unknown>;
  read(answer: unknown): Sums;
  close(): Promise<void>;
}

export function boldCompass(rows: StarRows): LoadedEngine & { store: Store } {
  const store = starStore(rows);
  return {
    name: 'Bold Compass, one thread',
    store,
    ask: () => Promise.resolve(runQuery(starDataset, store, starQuery)),
    read: (answer) => sumsOf(answer as ReturnType<typeof runQuery>),
    close: () => Promise.resolve(),
  };
}

/** The same with the records counted by several threads, as the server answers. */
export function split(store: Store): LoadedEngine {
  return {
    name: 'Bold Compass, split over threads',
    ask: () => splitQuery(starDataset, store, starQuery),
    read: (answer) => sumsOf(answer as ReturnType<typeof runQuery>),
    close: () => Promise.resolve(),
  };
}

const LEVELS = [...SIDE, ...TOP];
const SETS_SQL = starQuery.sets.map((set) => `(${set.map((level) => LEVELS[level]).join(', ')})`).join(', ');

/** Rows of a GROUPING SETS answer: the levels that a set leaves out are null. */
function sumsOfRows(rows: { members: (string | null)[]; sums: number[] }[]): Sums {
  return new Map(
    rows.map(({ members, sums }) => {
      const set = members.flatMap((member, level) => (member === null ? [] : [level]));
      return [
        setKey(
          set,
          set.map((level) => members[level]!),
        ),
        [sums[0], sums[1], sums[2]],
      ];
    }),
  );
}

const dimensionRows = (): { places: string[]; months: string[] } => ({
  places: Array.from(
    { length: PLACES },
    (_, place) =>
      `(${place}, ${placeLevels(place)
        .map((text) => `'${text}'`)
        .join(', ')})`,
  ),
  months: Array.from(
    { length: MONTHS },
    (_, month) =>
      `(${month}, ${monthLevels(month)
        .map((text) => `'${text}'`)
        .join(', ')})`,
  ),
});

export async function duckDb(rows: StarRows): Promise<LoadedEngine> {
  const instance = await DuckDBInstance.create(':memory:', { threads: '2' });
  const connection = await instance.connect();
  const { places, months } = dimensionRows();
  await connection.run('CREATE TABLE places (place_id INTEGER, region VARCHAR, country VARCHAR, city VARCHAR)');
  await connection.run(`INSERT INTO places VALUES ${places.join(', ')}`);
  await connection.run('CREATE TABLE months (month_id INTEGER, year VARCHAR, quarter VARCHAR, month VARCHAR)');
  await connection.run(`INSERT INTO months VALUES ${months.join(', ')}`);
  await connection.run(
    'CREATE TABLE facts (place_id INTEGER, month_id INTEGER, amount DECIMAL(12,2), quantity INTEGER, cost DECIMAL(12,2))',
  );
  // Cents go in as whole numbers and become decimals inside, so that every engine has the same values.
  await connection.run('CREATE TABLE raw (place_id INTEGER, month_id INTEGER, amount INTEGER, quantity INTEGER, cost INTEGER)');
  const appender = await connection.createAppender('raw');
  for (let row = 0; row < rows.place.length; row++) {
    for (const column of [rows.place, rows.month, rows.amount, rows.quantity, rows.cost]) appender.appendInteger(column[row]);
    appender.endRow();
  }
  appender.closeSync();
  await connection.run('INSERT INTO facts SELECT place_id, month_id, amount / 100.0, quantity, cost / 100.0 FROM raw');
  await connection.run('DROP TABLE raw');
  const sql = `SELECT ${LEVELS.join(', ')}, sum(amount) AS a, sum(quantity) AS q, sum(cost) AS c FROM facts JOIN places USING (place_id) JOIN months USING (month_id) GROUP BY GROUPING SETS (${SETS_SQL})`;
  return {
    name: 'DuckDB, 2 threads',
    ask: async () => (await connection.runAndReadAll(sql)).getRowsJson(),
    read: (answer) =>
      sumsOfRows(
        (answer as (string | null)[][]).map((row) => ({
          members: row.slice(0, 6),
          sums: [Math.round(Number(row[6]) * 100), Number(row[7]), Math.round(Number(row[8]) * 100)],
        })),
      ),
    close() {
      connection.closeSync();
      return Promise.resolve();
    },
  };
}

const DROP_TABLES = 'DROP TABLE IF EXISTS imported.bench_places, imported.bench_months, imported.bench_facts';

export async function postgres(rows: StarRows, url: string): Promise<LoadedEngine> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { places, months } = dimensionRows();
  await client.query('CREATE SCHEMA IF NOT EXISTS imported');
  await client.query(DROP_TABLES);
  await client.query(
    `CREATE TABLE imported.bench_places (place_id integer PRIMARY KEY, region text, country text, city text); INSERT INTO imported.bench_places VALUES ${places.join(', ')}`,
  );
  await client.query(
    `CREATE TABLE imported.bench_months (month_id integer PRIMARY KEY, year text, quarter text, month text); INSERT INTO imported.bench_months VALUES ${months.join(', ')}`,
  );
  await client.query(
    'CREATE TABLE imported.bench_facts (place_id integer, month_id integer, amount numeric(12,2), quantity integer, cost numeric(12,2))',
  );
  const lines = function* (): Generator<string> {
    let chunk = '';
    for (let row = 0; row < rows.place.length; row++) {
      chunk += `${rows.place[row]},${rows.month[row]},${(rows.amount[row] / 100).toFixed(2)},${rows.quantity[row]},${(rows.cost[row] / 100).toFixed(2)}\n`;
      if (chunk.length > 100_000) {
        yield chunk;
        chunk = '';
      }
    }
    yield chunk;
  };
  await pipeline(Readable.from(lines()), client.query(copyFrom('COPY imported.bench_facts FROM STDIN (FORMAT csv)')));
  await client.query('ANALYZE imported.bench_facts');
  const { text, values } = compileQuery(starDataset, starQuery);
  return {
    name: 'PostgreSQL, GROUPING SETS',
    ask: async () => (await client.query(text, values)).rows,
    read: (answer) =>
      sumsOfRows(
        (answer as Record<string, string | null>[]).map((row) => ({
          members: LEVELS.map((_, level) => row[`l${level}`]),
          sums: [Math.round(Number(row.a0) * 100), Number(row.a1), Math.round(Number(row.a2) * 100)],
        })),
      ),
    async close() {
      await client.query(DROP_TABLES);
      const ended = once(client, 'end');
      await client.end();
      await ended.catch(() => undefined);
    },
  };
}

/** Arquero groups plain columns: the star is joined for it beforehand, and each set is asked for by itself. */
export function arquero(rows: StarRows): LoadedEngine {
  const joined = (levels: (row: number) => string[], index: number, keys: Int32Array): string[] => {
    const texts = Array.from({ length: Math.max(PLACES, MONTHS) }, (_, row) => levels(row)[index]);
    return Array.from(keys, (key) => texts[key]);
  };
  const columns: Record<string, ArrayLike<unknown>> = { amount: rows.amount, quantity: rows.quantity, cost: rows.cost };
  SIDE.forEach((name, index) => (columns[name] = joined(placeLevels, index, rows.place)));
  TOP.forEach((name, index) => (columns[name] = joined(monthLevels, index, rows.month)));
  const facts: ColumnTable = table(columns as Record<string, unknown[]>);
  return {
    name: 'Arquero, 9 group-bys',
    ask: () =>
      Promise.resolve(
        starQuery.sets.map((set) =>
          facts.groupby(...set.map((level) => LEVELS[level])).rollup({ a: op.sum('amount'), q: op.sum('quantity'), c: op.sum('cost') }),
        ),
      ),
    read: (answer) =>
      sumsOfRows(
        (answer as ColumnTable[]).flatMap((result) =>
          (result.objects() as Record<string, string | number | undefined>[]).map((row) => ({
            members: LEVELS.map((name) => (row[name] as string | undefined) ?? null),
            sums: [Number(row.a), Number(row.q), Number(row.c)],
          })),
        ),
      ),
    close: () => Promise.resolve(),
  };
}
