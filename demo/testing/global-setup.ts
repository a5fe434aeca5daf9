import { connect, disconnect, migrateDatabase } from '@bold-compass/server/database';
import pg from 'pg';
import type { TestProject } from 'vitest/node';
import { loadDemo } from '../load.ts';
import { loadWarehouse } from '../warehouse.ts';

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string;
  }
}

export const DEMO_TEMPLATE = 'demo_template';
export const TEST_SECRET_KEY = 'for tests only';

/** Loads the demo company once into a template database that test files copy. */
export default async function setup(project: TestProject): Promise<void> {
  const url = process.env.BOLD_COMPASS_TEST_DATABASE;
  if (!url)
    throw new Error(
      'BOLD_COMPASS_TEST_DATABASE is not set: run the tests with `npm test`, or name a PostgreSQL server that may be filled.',
    );
  const admin = new pg.Client({ connectionString: url });
  await admin.connect();
  await admin.query(`DROP DATABASE IF EXISTS ${DEMO_TEMPLATE} WITH (FORCE)`);
  await admin.query(`CREATE DATABASE ${DEMO_TEMPLATE}`);
  await admin.end();
  const connection = connect(url.replace(/\/[^/]*$/, `/${DEMO_TEMPLATE}`));
  await migrateDatabase(connection);
  await loadDemo(connection);
  await loadWarehouse(connection, TEST_SECRET_KEY);
  await disconnect(connection);
  project.provide('databaseUrl', url);
}
