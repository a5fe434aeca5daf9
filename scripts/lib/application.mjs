import { spawn } from 'node:child_process';
import { join } from 'node:path';
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

/** Starts the built server. Resolves with its address once it listens. */
export function startServer(url, port) {
  const child = spawn(process.execPath, ['--enable-source-maps', join(root, 'server/dist/main.js')], {
    cwd: root,
    env: environment(url, { PORT: String(port), BOLD_COMPASS_WEB: join(root, 'web/dist') }),
    // The channel tells the server when this process is gone, even if it was killed: it then ends too.
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
  });
  return new Promise((resolve, reject) => {
    child.stdout.on('data', (data) => {
      const match = /listening on (\S+)/.exec(String(data));
      if (match) resolve({ child, address: match[1] });
    });
    child.on('error', reject);
    child.on('exit', (code) =>
      reject(new SetupError(`The server ended with ${code} before it listened. Is port ${port} in use? PORT=… chooses another one.`)),
    );
  });
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
