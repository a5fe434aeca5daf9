import { homedir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { z } from 'zod';
import { createApp } from './app.ts';
import { installationPassphrase } from './connections/index.ts';
import { connect, migrateDatabase, SetupRefused, type Reader } from './database/index.ts';

/** What the process is told by its environment. */
const settings = z
  .object({
    DATABASE_URL: z.string().min(1),
    PORT: z.coerce.number().int().min(0).max(65_535).default(4600),
    HOST: z.string().default('127.0.0.1'),
    BOLD_COMPASS_DEMO: z.enum(['0', '1']).default('0'),
    BOLD_COMPASS_WEB: z.string().default(fileURLToPath(new URL('../../web/dist', import.meta.url))),
    BOLD_COMPASS_SNAPSHOTS: z.string().default(join(homedir(), '.bold-compass', 'snapshots')),
    DATABASE_READER_URL: z.string().min(1).optional(),
    BOLD_COMPASS_READER: z.enum(['role', 'none']).default('role'),
    TRUST_PROXY: z.string().min(1).optional(),
    LOG_LEVEL: z.string().default('warn'),
  })
  .parse(process.env);

const logger = pino({ level: settings.LOG_LEVEL });
const reader: Reader = settings.DATABASE_READER_URL
  ? { kind: 'login', url: settings.DATABASE_READER_URL }
  : { kind: settings.BOLD_COMPASS_READER };
const connection = connect(settings.DATABASE_URL, (error) => logger.warn({ err: error }, 'database connection closed'), reader);
try {
  await migrateDatabase(connection);
} catch (error) {
  if (!(error instanceof SetupRefused)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exit(1);
}
const app = createApp({
  connection,
  secretKey: installationPassphrase(process.env),
  snapshotFolder: settings.BOLD_COMPASS_SNAPSHOTS,
  demo: settings.BOLD_COMPASS_DEMO === '1',
  webFolder: settings.BOLD_COMPASS_WEB,
  // A number counts proxies; anything else names them, as Express takes it.
  trustProxy: /^\d+$/.test(settings.TRUST_PROXY ?? '') ? Number(settings.TRUST_PROXY) : settings.TRUST_PROXY,
  logger,
});
await app.begin();
const server = app.express.listen(settings.PORT, settings.HOST, () => {
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : settings.PORT;
  process.stdout.write(`listening on http://${settings.HOST}:${port}\n`);
  app.warm().catch((error: unknown) => logger.warn({ err: error }, 'data could not be loaded ahead'));
});

// A socket that breaks off before its request is read is no failure of the server.
server.on('clientError', (_error, socket) => {
  if (socket.writable) socket.end('HTTP/1.1 400 Bad Request\r\nConnection: close\r\n\r\n');
});
server.on('error', (error) => {
  process.stderr.write(`The server cannot listen on ${settings.HOST}:${settings.PORT}: ${error.message}\n`);
  process.exit(1);
});
// Every event has a listener of its own; what still comes here is a fault, and after it nothing in memory can be trusted.
// The log says so, and whoever runs the server starts it again.
process.on('uncaughtException', (error) => {
  logger.fatal({ err: error }, 'unforeseen failure, the server ends');
  process.exit(70);
});
process.on('unhandledRejection', (reason) => logger.error({ err: reason }, 'unhandled rejection'));

async function stop(): Promise<void> {
  server.close();
  server.closeAllConnections();
  await app.close();
  process.exit(0);
}
// Started by a script: when that is gone, so is the reason to run.
process.once('disconnect', () => void stop());
process.once('SIGINT', () => void stop());
process.once('SIGTERM', () => void stop());
