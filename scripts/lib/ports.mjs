import { createServer } from 'node:net';
import { SetupError } from './shell.mjs';

/** Listens for a moment on a port of loopback (0: any free one) and tells which it was. Rejects when it is taken. */
function tryPort(port) {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.on('error', reject);
    probe.listen(port, '127.0.0.1', () => {
      const { port: found } = probe.address();
      probe.close(() => resolve(found));
    });
  });
}

export const freePort = () => tryPort(0);

/** Refuses to start where something listens already, before anything of it is touched. */
export async function refuseBusyPort(port) {
  await tryPort(port).catch(() => {
    throw new SetupError(
      `Something listens on port ${port} already, perhaps this demo. Stop it, or choose another port: PORT=4700 npm run demo`,
    );
  });
}
