// `npm run demo`: everything from a clean clone to the running application. Ctrl-C stops all of it.
import { ensureNodePackages } from './lib/packages.mjs';
import { refuseBusyPort } from './lib/ports.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { reportAndExit, say } from './lib/shell.mjs';

const started = performance.now();
const port = Number(process.env.PORT ?? 4600);
let postgres;
let server;
let stopping = false;

async function stop(code) {
  if (stopping) return;
  stopping = true;
  await server?.end();
  postgres?.stop();
  process.exit(code);
}
// Both come to the whole process group; children are ended in order here.
process.on('SIGINT', () => void stop(0));
process.on('SIGTERM', () => void stop(0));
process.on('SIGHUP', () => void stop(0));

try {
  await ensureNodePackages();
  await refuseBusyPort(port);
  const { buildAll } = await import('./lib/build.mjs');
  const { demoLog, loadDemo, superviseServer } = await import('./lib/application.mjs');
  postgres = await startPostgres('demo');
  await buildAll();
  await loadDemo(postgres.url);
  server = await superviseServer(postgres.url, port, demoLog, {
    onRestart: (reason) => say(`The server ended (${reason}) and is started again. Why is in ${demoLog}.`),
    onGivenUp(code) {
      say(`The server ends again and again. Why is in ${demoLog}.`);
      void stop(code);
    },
  });
  say(`
Bold Compass is ready after ${((performance.now() - started) / 1000).toFixed(1)} s:  ${server.address}

Enter with one click as one of the made-up people on the sign-in page, or type, for example:
  henrike.hollin@hollin-marsh.example   managing director, sees everything
  sanna.wikmark@hollin-marsh.example    regional manager, sees Nordic only
  ines.calloway@hollin-marsh.example    analyst, brings in data and composes
Password of all of them: compass-demo
The server's log: ${demoLog}

Ctrl-C stops everything.
`);
} catch (error) {
  await server?.end();
  postgres?.stop();
  reportAndExit(error);
}
