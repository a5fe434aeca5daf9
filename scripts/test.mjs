// `npm test`: all set-up, then every check. Ends with a line "N passed, N failed".
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { spawn } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensureNodePackages, installDebianPackages } from './lib/packages.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { hasCommand, reportAndExit, root, say } from './lib/shell.mjs';

/** The short form of `npm run soak`. */
const SOAK_MINUTES = 0.6;

const results = [];
const outputs = mkdtempSync(join(tmpdir(), 'bold-compass-test-'));
let postgres;
let control;
let server;

/** Runs one check; its output is shown when it ends, so that checks running side by side do not mix. */
function check(name, command, args, environment = {}) {
  const started = performance.now();
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, env: { ...process.env, ...environment }, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    child.stdout.on('data', (data) => (output += data));
    child.stderr.on('data', (data) => (output += data));
    child.on('error', (error) => (output += String(error)));
    child.on('close', (code) => {
      const seconds = ((performance.now() - started) / 1000).toFixed(1);
      say(`${code === 0 ? 'ok  ' : 'FAIL'} ${name} (${seconds} s)`);
      if (code !== 0) say(output.slice(-12_000));
      results.push({ name, passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 });
      resolve(code === 0);
    });
  });
}

/** Replaces the one line of a check with its counted tests. */
function count(name, file, read) {
  const result = results.find((one) => one.name === name);
  if (!result || !existsSync(file)) return;
  const counts = read(JSON.parse(readFileSync(file, 'utf8')));
  result.passed = counts.passed;
  result.failed = Math.max(counts.failed, result.failed);
}

async function stopAll() {
  const { endChild } = await import('./lib/application.mjs');
  if (server) await endChild(server.child);
  control?.close();
  postgres?.stop();
  rmSync(outputs, { recursive: true, force: true });
}

for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => void stopAll().then(() => process.exit(130)));

try {
  await ensureNodePackages();
  const chromium = process.env.BOLD_COMPASS_CHROMIUM ?? '/usr/bin/chromium';
  if (!existsSync(chromium) && !hasCommand('chromium')) await installDebianPackages(['chromium', 'fonts-liberation'], 'Chromium');
  postgres = await startPostgres('test');
  const url = postgres.url;
  const bin = (name) => join(root, 'node_modules', '.bin', name);

  const quick = async () => {
    // The native compiler; the interface's types need the other one.
    const native = join(root, 'node_modules/typescript-native/bin/tsc');
    await check('types of core, server, demo, tests', process.execPath, [native, '--noEmit', '-p', 'tsconfig.json']);
    await check('lint', bin('eslint'), ['.', '--max-warnings', '0']);
    await check('promises', process.execPath, [join(root, 'scripts/lint-promises.mjs')]);
    await check('exports that nobody uses', bin('knip'), ['--no-config-hints', '--no-progress']);
    await check('architecture', bin('depcruise'), ['--config', '.dependency-cruiser.cjs', 'core', 'server', 'web/src', 'demo']);
  };
  await Promise.all([check('types of the interface', bin('vue-tsc'), ['--noEmit', '-p', 'web']), quick()]);

  const { buildAll, buildServer } = await import('./lib/build.mjs');
  const unit = join(outputs, 'vitest.json');
  await check('unit, property and database tests', bin('vitest'), ['run'], {
    BOLD_COMPASS_VITEST_JSON: unit,
    BOLD_COMPASS_TEST_DATABASE: url,
    // Threads then start from modules that are built: each of the many applications under test has several.
    BOLD_COMPASS_THREADS: await buildServer(),
  });
  count('unit, property and database tests', unit, ({ numPassedTests, numFailedTests }) => ({
    passed: numPassedTests,
    failed: numFailedTests,
  }));

  const { loadDemo, startServer } = await import('./lib/application.mjs');
  const { serveControl } = await import('./lib/control.mjs');
  await buildAll();
  const { default: pg } = await import('pg');
  const emptyDatabase = async (name) => {
    const admin = new pg.Client({ connectionString: url });
    await admin.connect();
    await admin.query(`DROP DATABASE IF EXISTS ${name} WITH (FORCE)`);
    await admin.query(`CREATE DATABASE ${name}`);
    await admin.end();
    return url.replace(/\/postgres$/, `/${name}`);
  };
  const { soak } = await import('./lib/soak.mjs');
  const work = { minutes: SOAK_MINUTES, readers: 6, killSeconds: 5, databaseUrl: await emptyDatabase('soak'), say };
  const { faults } = await soak(postgres, work);
  say(`${faults.length === 0 ? 'ok  ' : 'FAIL'} killed server and database lose nothing`);
  results.push({
    name: 'killed server and database lose nothing',
    passed: faults.length === 0 ? 1 : 0,
    failed: faults.length === 0 ? 0 : 1,
  });

  const demoUrl = await emptyDatabase('browser_tests');
  await loadDemo(demoUrl);
  server = await startServer(demoUrl, 0);
  control = await serveControl(postgres);
  const browser = join(outputs, 'playwright.json');
  await check('tests in the browser', bin('playwright'), ['test', '-c', 'e2e/playwright.config.ts'], {
    BOLD_COMPASS_URL: server.address,
    BOLD_COMPASS_E2E_JSON: browser,
    BOLD_COMPASS_E2E_DATABASE: demoUrl,
    BOLD_COMPASS_E2E_CONTROL: control.address,
  });
  count('tests in the browser', browser, ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected }));
  await stopAll();

  const passed = results.reduce((sum, result) => sum + result.passed, 0);
  const failed = results.reduce((sum, result) => sum + result.failed, 0);
  say(`\n${passed} passed, ${failed} failed`);
  process.exit(failed === 0 ? 0 : 1);
} catch (error) {
  await stopAll().catch(() => undefined);
  say('\n0 passed, 1 failed');
  reportAndExit(error);
}
