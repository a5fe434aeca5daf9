import { installationPassphrase } from '@bold-compass/server/connections';
import { connect, disconnect, migrateDatabase, SetupRefused, type Reader } from '@bold-compass/server/database';
import { demoIsLoaded, loadDemo } from './load.ts';
import { loadWarehouse } from './warehouse.ts';

/** Brings the database at DATABASE_URL up to date and loads the demo company when it is not there. */
const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set.');
const login = process.env.DATABASE_READER_URL;
const reader: Reader = login ? { kind: 'login', url: login } : { kind: process.env.BOLD_COMPASS_READER === 'none' ? 'none' : 'role' };
const connection = connect(url, () => undefined, reader);
try {
  await migrateDatabase(connection);
  const started = performance.now();
  const fresh = !(await demoIsLoaded(connection));
  if (fresh) await loadDemo(connection);
  await loadWarehouse(connection, installationPassphrase(process.env));
  if (fresh) {
    process.stdout.write(`Hollin & Marsh loaded in ${((performance.now() - started) / 1000).toFixed(1)} s\n`);
  }
} catch (error) {
  if (!(error instanceof SetupRefused)) throw error;
  process.stderr.write(`${error.message}\n`);
  process.exitCode = 1;
} finally {
  await disconnect(connection);
}
