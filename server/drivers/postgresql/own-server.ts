import { ApiError } from '../../problems/index.ts';
import type { Queryable } from '../../sql/index.ts';

interface Server {
  started: string;
  database: string;
  user: string;
}

const WHO = 'SELECT pg_postmaster_start_time()::text AS started, current_database() AS database, current_user::text AS user';

/**
 * Refuses a connection that leads to the application's own server with more rights than a source needs: whoever may read
 * the application's tables there, its files, or everything, would read passwords and sessions through a query.
 * Throws ApiError `connection-failed`.
 */
export async function refuseOwnTables(client: Queryable, own: Queryable): Promise<void> {
  const [there, here] = await Promise.all([client.query(WHO), own.query(WHO)]);
  const [remote, application] = [there, here].map(({ rows }) => rows[0] as unknown as Server);
  // The moment of a start, to the microsecond, is no other server's.
  if (remote.started !== application.started) return;
  const { rows } = await client.query(
    `SELECT (SELECT rolsuper OR rolreplication OR rolcreaterole FROM pg_roles WHERE rolname = current_user)
       OR pg_has_role(current_user, $1::name, 'MEMBER')
       OR EXISTS (SELECT FROM pg_roles WHERE rolname IN ('pg_read_all_data', 'pg_read_server_files', 'pg_execute_server_program', 'pg_monitor')
                  AND pg_has_role(current_user, oid, 'MEMBER'))
       OR EXISTS (SELECT FROM pg_namespace WHERE nspname IN ('app', 'imported', 'staging') AND $2::boolean AND has_schema_privilege(oid, 'USAGE')) AS more`,
    [application.user, remote.database === application.database],
  );
  if (!rows[0].more) return;
  throw new ApiError(
    'connection-failed',
    `This leads to the database that the application itself works with, as a user (${remote.user}) who may read what is kept there for it. Name a user who may read the tables of your source and nothing else.`,
  );
}
