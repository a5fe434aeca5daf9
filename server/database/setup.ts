import { fileURLToPath } from 'node:url';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { READER_ROLE, withClient, type Connection } from './client.ts';
import { sqlState } from './failures.ts';

/** Where the migrations are: beside this file, and beside the bundle once it is built. */
const migrationsFolder = fileURLToPath(new URL('./migrations', import.meta.url));

/** Key of the advisory lock that one server at a time sets the database up under. */
const SETUP_LOCK = 0x62630002;

/** The database cannot be set up as it must be; the message says what an administrator does. */
export class SetupRefused extends Error {}

/** Brings the application's tables up to date, and sees to it that records are read as someone who can read nothing else. */
export async function migrateDatabase(connection: Connection): Promise<void> {
  await withClient(connection.pool, async (client) => {
    await client.query('SELECT pg_advisory_lock($1)', [SETUP_LOCK]);
    try {
      await migrate(connection.db, { migrationsFolder });
      await setUpReader(client, connection);
    } finally {
      await client.query('SELECT pg_advisory_unlock($1)', [SETUP_LOCK]);
    }
  });
  await checkReader(connection);
}

/** The name of who reads records, or null where the application does so itself. */
export function readerName({ reader }: Pick<Connection, 'reader'>): string | null {
  if (reader.kind === 'none') return null;
  return reader.kind === 'role' ? READER_ROLE : (new pg.Client({ connectionString: reader.url }).user ?? null);
}

/** Makes the role where that is possible, and lets it read what is imported. */
async function setUpReader(client: pg.ClientBase, connection: Connection): Promise<void> {
  const name = readerName(connection);
  if (name === null) return;
  if (connection.reader.kind === 'role') await makeRole(client);
  const role = pg.escapeIdentifier(name);
  await client.query(`GRANT USAGE ON SCHEMA imported TO ${role}`);
  await client.query(`GRANT SELECT ON ALL TABLES IN SCHEMA imported TO ${role}`);
}

/** Roles belong to the whole server: another application's start may make it in the same moment. */
async function makeRole(client: pg.ClientBase): Promise<void> {
  const { rows } = await client.query<{ user: string; there: boolean; may: boolean }>(
    `SELECT current_user AS user, EXISTS (SELECT FROM pg_roles WHERE rolname = $1) AS there,
       coalesce((SELECT pg_has_role(current_user, oid, 'MEMBER') FROM pg_roles WHERE rolname = $1), false) AS may`,
    [READER_ROLE],
  );
  if (rows[0].may) return;
  try {
    if (!rows[0].there) await client.query(`CREATE ROLE ${READER_ROLE} NOLOGIN`);
    await client.query(`GRANT ${READER_ROLE} TO CURRENT_USER`);
  } catch (error) {
    const state = sqlState(error);
    // 42710: there already; 23505: made in the same moment.
    if (state === '42710' || state === '23505') return makeRole(client);
    if (state !== '42501') throw error;
    throw new SetupRefused(refusal(rows[0].user));
  }
}

const refusal = (user: string): string =>
  `The user of DATABASE_URL may make no roles on this server. Records are read as a role that can read nothing but imported tables, so one of these is needed:
  1. An administrator runs:  CREATE ROLE ${READER_ROLE} NOLOGIN; GRANT ${READER_ROLE} TO ${pg.escapeIdentifier(user)};
  2. DATABASE_READER_URL names a login of its own for the same database, which may read nothing yet.
  3. BOLD_COMPASS_READER=none starts without that net: the application's own checks remain the only ones.`;

/** Refuses to start where the reader could read more than it must. */
async function checkReader({ reader, records, url }: Connection): Promise<void> {
  if (reader.kind === 'none') return;
  const { rows } = await records.query<{ name: string; database: string; more: boolean }>(
    `SELECT current_user AS name, current_database() AS database,
       (SELECT rolsuper FROM pg_roles WHERE rolname = current_user)
         OR has_schema_privilege('app', 'USAGE') OR has_schema_privilege('staging', 'USAGE')
         OR pg_has_role(current_user, 'pg_read_all_data', 'MEMBER') OR pg_has_role(current_user, 'pg_read_server_files', 'MEMBER') AS more`,
  );
  const own = new pg.Client({ connectionString: url }).database;
  if (rows[0].database !== own) throw new SetupRefused(`DATABASE_READER_URL leads to the database ${rows[0].database}, not to ${own}.`);
  if (rows[0].more)
    throw new SetupRefused(
      `The role ${rows[0].name} may read more than imported tables. Take its other rights away, or name another login in DATABASE_READER_URL.`,
    );
}
