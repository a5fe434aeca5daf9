import { fork } from 'node:child_process';
import { once } from 'node:events';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { REPORT_SCHEMA_VERSION, reportSchema } from '@bold-compass/core/model';
import { createApp } from '@bold-compass/server/app';
import { connect, migrateDatabase, readerName, tables } from '@bold-compass/server/database';
import pg from 'pg';
import type { ReaderTask, ReaderTimes } from './reader-process.ts';
import { hostileCrosstab, longCrosstab, longDataset, VISITS } from './long.ts';
import { watchLoop } from './loop-watch.ts';

/**
 * Ten readers scroll through a cross-tab of many open rows at once: how long each window takes from request to answer, and
 * how long the server's event loop was held up meanwhile. The readers are in a process of their own.
 */
const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set: start this by `npm run bench`.');
const READERS = 10;
const SECONDS = 8;
const DATABASE = 'bench_readers';

const out = (text: string): void => void process.stdout.write(`${text}\n`);

async function withAdmin(sql: string[]): Promise<void> {
  const admin = new pg.Client({ connectionString: url });
  await admin.connect();
  for (const one of sql) await admin.query(one);
  await admin.end();
}

async function measure(people: number, hostile = 0): Promise<{ times: ReaderTimes; p99: number; most: number; mostWork: number }> {
  await withAdmin([`DROP DATABASE IF EXISTS ${DATABASE} WITH (FORCE)`, `CREATE DATABASE ${DATABASE}`]);
  const connection = connect(url!.replace(/\/[^/]*$/, `/${DATABASE}`));
  await migrateDatabase(connection);
  const { pool, db } = connection;
  await pool.query('CREATE TABLE imported.people (id text PRIMARY KEY, name text)');
  await pool.query('CREATE TABLE imported.visits (id text, hours integer)');
  // Made by the database, so that nothing of it is left for this process to clear away while it is measured.
  await pool.query(
    `INSERT INTO imported.people SELECT 'p' || lpad(person::text, 7, '0'), format('Person %s of %s', person * 7919 % ${people}, ${people})
     FROM generate_series(0, ${people - 1}) AS person`,
  );
  await pool.query(
    `INSERT INTO imported.visits SELECT 'p' || lpad((visit % ${people})::text, 7, '0'), visit % 9 FROM generate_series(0, ${people * VISITS - 1}) AS visit`,
  );
  const reader = readerName(connection);
  if (reader !== null) await pool.query(`GRANT SELECT ON ALL TABLES IN SCHEMA imported TO ${pg.escapeIdentifier(reader)}`);
  await db.insert(tables.datasets).values({ name: longDataset.name, definition: longDataset });
  const report = reportSchema.parse({
    ...{
      schemaVersion: REPORT_SCHEMA_VERSION,
      id: 'long',
      title: 'Long',
      dataset: longDataset.name,
      exhibits: [longCrosstab, hostileCrosstab],
    },
  });
  await db.insert(tables.reports).values({ id: report.id, draft: report });
  await db.insert(tables.editions).values({ report: report.id, number: 1, document: report });
  const person = {
    id: 'reader',
    name: 'Reader',
    email: 'reader@bench.example',
    role: 'manager',
    passwordHash: '',
    demoPosition: 0,
  } as const;
  await db.insert(tables.people).values([person, { ...person, id: 'other', name: 'Other', email: 'other@bench.example', demoPosition: 1 }]);

  const app = createApp({ connection, demo: true, secretKey: 'bench '.repeat(8) });
  await app.begin();
  await app.warm();
  const server = createServer(app.express).listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  const task: ReaderTask = { address: `http://127.0.0.1:${port}`, readers: READERS, seconds: SECONDS, rows: people, hostile };
  const script = fileURLToPath(new URL('./reader-process.ts', import.meta.url));
  const readers = fork(script, [JSON.stringify(task)], { execArgv: ['--import', 'tsx'] });
  await once(readers, 'message');
  // The first window has been answered: from here on it is what readers do all day.
  const ended = watchLoop();
  const [times] = (await once(readers, 'message')) as unknown as [ReaderTimes];
  const { p99, most, mostWork } = ended();
  server.close();
  await app.close();
  await withAdmin([`DROP DATABASE ${DATABASE} WITH (FORCE)`]);
  return { times, p99, most, mostWork };
}

const milliseconds = (time: number): string => `${time.toFixed(1)} ms`;
const row = (cells: readonly string[]): void => out(`| ${cells.join(' | ')} |`);

out(
  `\nTen readers scroll for ${SECONDS} s through all rows of a cross-tab, ten windows a second each at most, on the same cores as the server:\n`,
);
row(['rows', 'windows', 'median', '95 %', 'event loop held up, 99 %', 'at most', 'by its own work, at most']);
row(Array.from({ length: 7 }, () => '---'));
for (const people of [10_000, 100_000]) {
  const { times, p99, most, mostWork } = await measure(people);
  row([
    people.toLocaleString('en-GB'),
    times.windows.toLocaleString('en-GB'),
    ...[times.median, times.p95, p99, most, mostWork].map(milliseconds),
  ]);
}

/** Questions of one person that are always under way: more than there are threads. */
const HOSTILE = 6;
out(`\nThe same readers alone, and beside ${HOSTILE} questions of another person that take as long as they may:\n`);
row(['', 'windows', 'median', '95 %']);
row(Array.from({ length: 4 }, () => '---'));
const [alone, beside] = [await measure(10_000), await measure(10_000, HOSTILE)];
for (const [words, { times }] of [
  ['alone', alone],
  ['beside them', beside],
] as const)
  row([words, times.windows.toLocaleString('en-GB'), milliseconds(times.median), milliseconds(times.p95)]);
row(['ratio', ...(['windows', 'median', 'p95'] as const).map((what) => (beside.times[what] / alone.times[what]).toFixed(2))]);
process.exit(0);
