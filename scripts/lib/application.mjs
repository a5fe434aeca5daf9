import { spawn } from 'node:child_process';
import { createWriteStream, mkdirSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';
import { root, run, SetupError } from './shell.mjs';

const environment = (url, more = {}) => ({
  ...process.env,
  DATABASE_URL: url,
  BOLD_COMPASS_DEMO: '1',
  BOLD_COMPASS_DEMO_DOCUMENTS: join(root, 'demo/documents'),
  ...more,
});

/** Migrates the database and loads the demo company when it is not there. */
export function loadDemo(url) {
  return run(process.execPath, [join(root, 'server/dist/load-demo.js')], { env: environment(url) });
}

/** File that the demo's server writes its log to. */
export const demoLog = join(homedir(), '.bold-compass', 'demo-server.log');

/** Starts the built server. Resolves with its address once it listens. `log` is a file for what it writes. */
export function startServer(url, port, log) {
  const child = spawn(process.execPath, ['--enable-source-maps', join(root, 'server/dist/main.js')], {
    cwd: root,
    env: environment(url, { PORT: String(port), BOLD_COMPASS_WEB: join(root, 'web/dist') }),
    // The channel tells the server when this process is gone, even if it was killed: it then ends too.
    stdio: ['ignore', 'pipe', log ? 'pipe' : 'inherit', 'ipc'],
  });
  if (log) {
    mkdirSync(dirname(log), { recursive: true, mode: 0o700 });
    const file = createWriteStream(log, { flags: 'a', mode: 0o600 });
    // A full disk is no reason to end the demo.
    file.on('error', () => undefined);
    child.stdout.pipe(file, { end: false });
    child.stderr.pipe(file);
  }
  return new Promise((resolve, reject) => {
    child.stdout.on('data', (data) => {
      const match = /listening on (\S+)/.exec(String(data));
      if (match) resolve({ child, address: match[1] });
    });
    child.on('error', reject);
    child.on('exit', (code) =>
      reject(
        new SetupError(
          `The server ended with ${code} before it listened. Is port ${port} in use? PORT=… chooses another one.${log ? ` Its log: ${log}` : ''}`,
        ),
      ),
    );
  });
}

/** Restarts that are tried within a minute; after that many the fault is not one that passes. */
const MOST_RESTARTS = 5;
const MINUTE = 60_000;

/**
 * Starts the server and starts it again when it ends by itself: the last net under whatever was not foreseen. Resolves
 * like `startServer`; `child()` is the process that runs now, `end()` ends it for good.
 */
export async function superviseServer(url, port, log, { onRestart, onGivenUp }) {
  let ending = false;
  const restarts = [];
  let current = await startServer(url, port, log);
  const watch = ({ child, address }) =>
    child.once('exit', async (code, signal) => {
      if (ending) return;
      const now = Date.now();
      while (restarts.length > 0 && now - restarts[0] > MINUTE) restarts.shift();
      if (restarts.push(now) > MOST_RESTARTS) return onGivenUp(code ?? 1);
      onRestart(signal ?? code);
      await new Promise((resolve) => setTimeout(resolve, 250 * restarts.length));
      if (ending) return;
      try {
        current = await startServer(url, Number(new URL(address).port), log);
        watch(current);
      } catch {
        onGivenUp(code ?? 1);
      }
    });
  watch(current);
  return {
    address: current.address,
    child: () => current.child,
    end() {
      ending = true;
      return endChild(current.child);
    },
  };
}

/** Ends a child and waits until it is gone. */
export function endChild(child) {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    const force = setTimeout(() => child.kill('SIGKILL'), 5_000);
    child.once('exit', () => {
      clearTimeout(force);
      resolve();
    });
    child.kill('SIGTERM');
  });
}
