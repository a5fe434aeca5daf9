import { fileURLToPath } from 'node:url';
import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import * as schema from './schema.ts';

export type Database = NodePgDatabase<typeof schema>;

export interface Connection {
  url: string;
  pool: pg.Pool;
  db: Database;
}

/** Opens a pool of connections. An idle connection that the server closes is no error: the next one is opened anew. */
export function connect(url: string, onIdleError: (error: Error) => void = () => undefined): Connection {
  const pool = new pg.Pool({ connectionString: url, max: 8, connectionTimeoutMillis: 3_000, idleTimeoutMillis: 30_000 });
  pool.on('error', onIdleError);
  return { url, pool, db: drizzle(pool, { schema }) };
}

/** Where the migrations are: beside this file, and beside the bundle once it is built. */
const migrationsFolder = fileURLToPath(new URL('./migrations', import.meta.url));

/** Brings the application's tables up to date. */
export async function migrateDatabase({ db }: Connection): Promise<void> {
  await migrate(db, { migrationsFolder });
}
