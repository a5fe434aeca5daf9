import { homedir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { pino } from 'pino';
import { z } from 'zod';
import { createApp } from './app.ts';
import { installationPassphrase } from './connections/index.ts';
import { connect, migrateDatabase } from './database/index.ts';

/** What the process is told by its environment. */
const settings = z
  .object({
    DATABASE_URL: z.string().min(1),
    PORT: z.coerce.number().int().min(0).max(65_535).default(4600),
    HOST: z.string().default('127.0.0.1'),
    BOLD_COMPASS_DEMO: z.enum(['0', '1']).default('0'),
    BOLD_COMPASS_WEB: z.string().default(fileURLToPath(new URL('../../web/dist', import.meta.url))),
    BOLD_COMPASS_SNAPSHOTS: z.string().default(join(homedir(), '.bold-compass', 'snapshots')),
    LOG_LEVEL: z.string().default('warn'),
  })
  .parse(process.env);

const logger = pino({ level: settings.LOG_LEVEL });
const connection = connect(settings.DATABASE_URL, (error) => logger.warn({ err: error }, 'database connection closed'));
await migrateDatabase(connection);
const app = createApp({
  connection,
  secretKey: installationPassphrase(process.env),
  snapshotFolder: settings.BOLD_COMPASS_SNAPSHOTS,
  demo: settings.BOLD_COMPASS_DEMO === '1',
  webFolder: settings.BOLD_COMPASS_WEB,
  logger,
});
await app.sweep();
const server = app.express.listen(settings.PORT, settings.HOST, () => {
  const address = server.address();
  const port = typeof address === 'object' && address ? address.port : settings.PORT;
  process.stdout.write(`listening on http://${settings.HOST}:${port}\n`);
  app.warm().catch((error: unknown) => logger.warn({ err: error }, 'data could not be loaded ahead'));
});

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
