// `npm run dev`: the demo company with live reload. The interface is replaced where it changed; the server is built and started
// again. Its database is kept apart from the demo's. Ctrl-C stops all of it.
import { spawn } from 'node:child_process';
import { watch } from 'node:fs';
import { join } from 'node:path';
import { ensureNodePackages } from './lib/packages.mjs';
import { refuseBusyPort } from './lib/ports.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { reportAndExit, root, say } from './lib/shell.mjs';

const [port, apiPort] = [Number(process.env.PORT ?? 5173), Number(process.env.API_PORT ?? 4601)];
/** Editors save in several steps, in milliseconds. */
const SETTLES = 200;
let postgres;
let server;
let vite;
let stopping = false;

async function stop(code) {
  if (stopping) return;
  stopping = true;
  const { endChild } = await import('./lib/application.mjs');
  await Promise.all([vite, server?.child].map((child) => child && endChild(child)));
  postgres?.stop();
  process.exit(code);
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(0));

try {
  await ensureNodePackages();
  await refuseBusyPort(port);
  await refuseBusyPort(apiPort);
  const { buildServer } = await import('./lib/build.mjs');
  const { endChild, loadDemo, startServer } = await import('./lib/application.mjs');
  postgres = await startPostgres('dev');
  await buildServer();
  await loadDemo(postgres.url);
  server = await startServer(postgres.url, apiPort);

  /** Builds and starts again after what is going on, so that two changes at once are one more start and no more. */
  let going = Promise.resolve();
  let waiting = null;
  const restart = async () => {
    if (stopping) return;
    try {
      await buildServer();
      await endChild(server.child);
      server = await startServer(postgres.url, apiPort);
      say('The server was built and started again.');
    } catch (error) {
      // It is tried again with the next change.
      say(`The server could not be started: ${error instanceof Error ? error.message : error}`);
    }
  };
  for (const folder of ['core', 'server'])
    watch(join(root, folder), { recursive: true }, (_event, name) => {
      if (!name || /(^|\/)(dist|node_modules)(\/|$)|\.test\.ts$/.test(name)) return;
      clearTimeout(waiting);
      waiting = setTimeout(() => (going = going.then(restart)), SETTLES);
    });

  vite = spawn(join(root, 'node_modules/.bin/vite'), ['--port', String(port), '--strictPort'], {
    cwd: join(root, 'web'),
    stdio: 'inherit',
    env: { ...process.env, BOLD_COMPASS_API: server.address },
  });
  vite.once('exit', (code) => void stop(code ?? 1));
} catch (error) {
  const { endChild } = await import('./lib/application.mjs');
  if (server) await endChild(server.child);
  postgres?.stop();
  reportAndExit(error);
}
