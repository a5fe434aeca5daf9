import { availableParallelism, cpus, tmpdir } from 'node:os';
import { join } from 'node:path';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { bytesOf } from '@bold-compass/core/engine';
import { loadStore, readSnapshot, snapshotFile, writeSnapshot } from '@bold-compass/server/data';
import pg from 'pg';
import { arquero, boldCompass, duckDb, postgres, split, type LoadedEngine } from './engines.ts';
import { starDataset, starRows, type Sums } from './star.ts';

/**
 * Times the same question on the same rows, side by side in one run, and checks that all answers are equal.
 * `npm run bench -- 200000 2000000` names other sizes.
 */
const sizes = process.argv
  .slice(2)
  .map(Number)
  .filter((size) => size > 0);
const SIZES = sizes.length > 0 ? sizes : [200_000, 2_000_000, 10_000_000];
const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set: start this by `npm run bench`.');

const out = (text: string): void => void process.stdout.write(`${text}\n`);
const version = (name: string): string =>
  (JSON.parse(readFileSync(new URL(`../node_modules/${name}/package.json`, import.meta.url), 'utf8')) as { version: string }).version;
const median = (values: number[]): number => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)];

/** Engines take turns, so that whatever else the machine does falls on all of them. */
async function timed(engines: LoadedEngine[], rounds: Map<LoadedEngine, number>): Promise<Map<LoadedEngine, number>> {
  const times = new Map<LoadedEngine, number[]>(engines.map((engine) => [engine, []]));
  for (let round = 0; round < Math.max(...rounds.values()); round++) {
    for (const engine of engines) {
      if (round >= rounds.get(engine)!) continue;
      const started = performance.now();
      await engine.ask();
      times.get(engine)!.push(performance.now() - started);
    }
  }
  return new Map([...times].map(([engine, own]) => [engine, median(own)]));
}

function differences(ours: Sums, theirs: Sums): number {
  if (ours.size !== theirs.size) return Math.abs(ours.size - theirs.size);
  let different = 0;
  for (const [key, sums] of ours) if (theirs.get(key)?.some((value, index) => value !== sums[index]) ?? true) different++;
  return different;
}

const client = new pg.Client({ connectionString: url });
await client.connect();
const server = ((await client.query('SHOW server_version')).rows as { server_version: string }[])[0].server_version;
await client.end();
out(
  `${availableParallelism()} cores (${cpus()[0]?.model.trim()}), Node.js ${process.versions.node}, DuckDB ${version('@duckdb/node-api')}, PostgreSQL ${server}, Arquero ${version('arquero')}.`,
);
out('Six dimension levels on two axes, three sums, nine grouping sets; medians in one run, engines taking turns.\n');
out('| records | engine | median | to Bold Compass | answers equal |');
out('|---|---|---|---|---|');
/** How long the columns take to load: from PostgreSQL, and from the snapshot that this leaves. */
async function timeLoading(size: number, from: string): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'bold-compass-bench-'));
  const client = new pg.Client({ connectionString: from });
  await client.connect();
  try {
    const started = performance.now();
    const store = await loadStore(client, starDataset, 'bench@1');
    const cold = performance.now() - started;
    const file = snapshotFile(folder, 'bench', [size]);
    await writeSnapshot(file, store);
    const again = performance.now();
    await readSnapshot(file);
    const seconds = (milliseconds: number): string => (milliseconds / 1000).toFixed(2);
    return `${size.toLocaleString('en-GB')} records load in ${seconds(cold)} s from PostgreSQL, in ${seconds(performance.now() - again)} s from a snapshot.`;
  } finally {
    await client.end();
    rmSync(folder, { recursive: true });
  }
}

const loading: string[] = [];
let failed = false;
const memory: string[] = [];
for (const size of SIZES) {
  const rows = starRows(size);
  const ours = boldCompass(rows);
  // Past two million records the slow engines would take minutes an answer; how they grow is plain by then.
  const slowToo = size <= 2_000_000 ? [await postgres(rows, url), arquero(rows)] : [];
  const engines: LoadedEngine[] = [ours, split(ours.store), await duckDb(rows), ...slowToo];
  const rounds = new Map(engines.map((engine) => [engine, slowToo.includes(engine) ? 3 : 9]));
  const answers = new Map<LoadedEngine, Sums>();
  // The first answer warms up, and is the one that is compared.
  for (const engine of engines) answers.set(engine, engine.read(await engine.ask()));
  const medians = await timed(engines, rounds);
  for (const engine of engines) {
    const unequal = differences(answers.get(ours)!, answers.get(engine)!);
    failed ||= unequal > 0;
    const ratio = medians.get(engine)! / medians.get(ours)!;
    const groups = answers.get(engine)!.size.toLocaleString('en-GB');
    out(
      `| ${size.toLocaleString('en-GB')} | ${engine.name} | ${medians.get(engine)!.toFixed(1)} ms | ${ratio.toFixed(1)} × | ${unequal === 0 ? `yes, ${groups} groups` : `NO: ${unequal} differ`} |`,
    );
  }
  memory.push(`${size.toLocaleString('en-GB')} records take ${(bytesOf(ours.store.facts.facts) / size).toFixed(1)} bytes each`);
  if (slowToo.length > 0) loading.push(await timeLoading(size, url));
  for (const engine of engines) await engine.close();
}
out(`\n${memory.join('; ')}.`);
out(`\n${loading.join('\n')}`);
process.exit(failed ? 1 : 0);
