import { randomBytes } from 'node:crypto';
import { pipeline } from 'node:stream/promises';
import { SecretBox } from '@bold-compass/server/connections';
import { openClient, tables, type Connection } from '@bold-compass/server/database';
import { identifier } from '@bold-compass/server/sql';
import { eq } from 'drizzle-orm';
import pg from 'pg';
import { from as copyFrom, to as copyTo } from 'pg-copy-streams';

/** The connection that the demo comes with. */
export const WAREHOUSE_CONNECTION = 'warehouse';

/** Tables of the stand-in: the columns of the demo company's own, under a warehouse's names. */
const TABLES = [
  {
    name: 'staff',
    columns:
      'person_id integer PRIMARY KEY, name text NOT NULL, title text NOT NULL, lead_id integer REFERENCES warehouse.staff, showroom_id integer',
    source: 'SELECT employee_id, employee, title, manager_id, showroom_id FROM imported.employees ORDER BY 1',
  },
  {
    name: 'sales',
    columns:
      'sold_on date NOT NULL, showroom_id integer NOT NULL, adviser_id integer REFERENCES warehouse.staff, channel text, quantity integer NOT NULL, unit_price numeric(12,2) NOT NULL, discount numeric(12,2) NOT NULL',
    source:
      'SELECT order_date, showroom_id, adviser_id, channel, quantity, unit_price, discount FROM imported.order_lines ORDER BY order_line_id',
  },
];

/**
 * Sets up a second database as the stand-in for a company's warehouse, with a user who may only read it, and the
 * connection to it. A connection that is there is told where the server is now: the demo's own takes another port with
 * each start. Does nothing where the server lets nobody make databases.
 */
export async function loadWarehouse({ db, pool, url }: Connection, secretKey: string): Promise<void> {
  const { host, port } = new pg.Client({ connectionString: url });
  const known = await db
    .update(tables.connections)
    .set({ host, port })
    .where(eq(tables.connections.id, WAREHOUSE_CONNECTION))
    .returning({ id: tables.connections.id });
  if (known.length > 0) return;
  const { rows } = await pool.query<{ name: string; may: boolean }>(
    `SELECT current_database() AS name, rolcreatedb AND rolcreaterole OR rolsuper AS may FROM pg_roles WHERE rolname = current_user`,
  );
  if (!rows[0].may) {
    process.stdout.write('The stand-in for a warehouse was left out: this database user may make no databases.\n');
    return;
  }
  const database = `${rows[0].name}_warehouse`;
  const user = `${database}_reader`;
  const password = randomBytes(18).toString('base64url');
  await pool.query(`DROP DATABASE IF EXISTS ${identifier(database)} WITH (FORCE)`);
  await pool.query(`DROP ROLE IF EXISTS ${identifier(user)}`);
  await pool.query(`CREATE DATABASE ${identifier(database)}`);
  await pool.query(`CREATE ROLE ${identifier(user)} LOGIN PASSWORD '${password}'`);
  await fill(pool, url.replace(/\/[^/]*$/, `/${database}`), user);
  await db.insert(tables.connections).values({
    ...{ id: WAREHOUSE_CONNECTION, label: 'Warehouse (stand-in)', host, port, database, user },
    secret: new SecretBox(secretKey).seal(password),
  });
}

async function fill(from: pg.Pool, url: string, user: string): Promise<void> {
  const target = await openClient({ connectionString: url });
  const source = await from.connect();
  try {
    await target.query('CREATE SCHEMA warehouse');
    for (const table of TABLES) {
      await target.query(`CREATE TABLE warehouse.${table.name} (${table.columns})`);
      await pipeline(
        source.query(copyTo(`COPY (${table.source}) TO STDOUT`)),
        target.query(copyFrom(`COPY warehouse.${table.name} FROM STDIN`)),
      );
    }
    await target.query(`GRANT USAGE ON SCHEMA warehouse TO ${identifier(user)}`);
    await target.query(`GRANT SELECT ON ALL TABLES IN SCHEMA warehouse TO ${identifier(user)}`);
    await target.query('ANALYZE');
  } finally {
    source.release();
    await target.end();
  }
}
