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
import { longCrosstab, longDataset, VISITS } from './long.ts';
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

async function measure(people: number): Promise<string> {
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
    ...{ schemaVersion: REPORT_SCHEMA_VERSION, id: 'long', title: 'Long', dataset: longDataset.name, exhibits: [longCrosstab] },
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
  await db.insert(tables.people).values(person);

  const app = createApp({ connection, demo: true, secretKey: 'bench '.repeat(8) });
  await app.begin();
  await app.warm();
  const server = createServer(app.express).listen(0, '127.0.0.1');
  await once(server, 'listening');
  const { port } = server.address() as AddressInfo;
  const task: ReaderTask = { address: `http://127.0.0.1:${port}`, readers: READERS, seconds: SECONDS, rows: people };
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
  const milliseconds = (time: number): string => `${time.toFixed(1)} ms`;
  const columns = [times.median, times.p95, p99, most, mostWork].map(milliseconds);
  return `| ${[people.toLocaleString('en-GB'), times.windows.toLocaleString('en-GB'), ...columns].join(' | ')} |`;
}

out(
  `\nTen readers scroll for ${SECONDS} s through all rows of a cross-tab, ten windows a second each at most, on the same cores as the server:\n`,
);
out('| rows | windows | median | 95 % | event loop held up, 99 % | at most | by its own work, at most |');
out('|---|---|---|---|---|---|---|');
for (const people of [10_000, 100_000]) out(await measure(people));
process.exit(0);
