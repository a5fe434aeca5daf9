import { installationPassphrase } from '@bold-compass/server/connections';
import { connect, migrateDatabase } from '@bold-compass/server/database';
import { demoIsLoaded, loadDemo } from './load.ts';
import { loadWarehouse } from './warehouse.ts';

/** Brings the database at DATABASE_URL up to date and loads the demo company when it is not there. */
const url = process.env.DATABASE_URL;
if (!url) throw new Error('DATABASE_URL is not set.');
const connection = connect(url);
try {
  await migrateDatabase(connection);
  const started = performance.now();
  const fresh = !(await demoIsLoaded(connection));
  if (fresh) await loadDemo(connection);
  await loadWarehouse(connection, installationPassphrase(process.env));
  if (fresh) {
    process.stdout.write(`Hollin & Marsh loaded in ${((performance.now() - started) / 1000).toFixed(1)} s\n`);
  }
} finally {
  await connection.pool.end();
}
