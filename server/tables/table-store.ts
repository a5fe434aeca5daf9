import { createHash, randomUUID } from 'node:crypto';
import { eq, notInArray, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { readerName, tables, type Connection, type AnyClient, type Client, type Pool } from '../database/index.ts';
import type { Instance } from '../instance/index.ts';
import { identifier, qualified, registered, STAGING, staged } from '../sql/index.ts';

/** What indexes of ours are called by: only these are ever taken away. */
const KEY_SUFFIX = '_bold_compass_key';
const EXAMPLES = 10;

interface DoubledKeys {
  /** Keys that several rows have. */
  keys: number;
  examples: string[];
}

/** The keys that several rows of a relation have. Rows without a part of the key have none. */
export async function doubledKeys(client: AnyClient | Pool, relation: string, key: readonly string[]): Promise<DoubledKeys> {
  const columns = key.map(identifier);
  const { rows } = await client.query<{ n: number; examples: string[] | null }>(
    `SELECT count(*)::int AS n, (array_agg(example ORDER BY example))[1:${EXAMPLES}] AS examples
     FROM (SELECT concat_ws(', ', ${columns.map((column) => `${column}::text`).join(', ')}) AS example FROM ${relation} AS r
           WHERE ${columns.map((column) => `${column} IS NOT NULL`).join(' AND ')} GROUP BY ${columns.join(', ')} HAVING count(*) > 1) AS doubled`,
  );
  return { keys: rows[0].n, examples: rows[0].examples ?? [] };
}

const keyName = (table: string, key: readonly string[]): string =>
  `${table.slice(0, 30)}_${createHash('sha256').update(JSON.stringify(key)).digest('hex').slice(0, 8)}${KEY_SUFFIX}`;

/**
 * The registered tables, and those on their way to become one. A table is filled in the schema `staging`, where nothing
 * is final, and becomes a registered one in a single transaction; it goes again only by its id in the registry.
 */
export class TableStore {
  constructor(
    private readonly connection: Connection,
    private readonly instance: Instance,
  ) {}

  /** Names a table that is about to be filled: what this server leaves behind if it is killed is known by it. */
  async begin(): Promise<string> {
    const table = `t_${randomUUID().replaceAll('-', '')}`;
    await this.connection.db.insert(tables.stagings).values({ table, instance: this.instance.number });
    return table;
  }

  /** Drops a table that did not become a registered one. */
  async discard(table: string): Promise<void> {
    await this.connection.pool.query(`DROP TABLE IF EXISTS ${staged(table)}`);
    await this.connection.db.delete(tables.stagings).where(eq(tables.stagings.table, table));
  }

  /** Drops what servers that run no more had begun. */
  async sweep(): Promise<void> {
    const running = await this.instance.running();
    const left = await this.connection.db
      .select({ table: tables.stagings.table })
      .from(tables.stagings)
      .where(notInArray(tables.stagings.instance, [...running]));
    for (const { table } of left) await this.discard(table);
  }

  /** Makes a filled table the registered one of an id, in the place of the one that was, inside the caller's transaction. */
  async publish(client: AnyClient, table: string, id: string): Promise<void> {
    await this.drop(client, id);
    await client.query(`ALTER TABLE ${staged(table)} SET SCHEMA imported`);
    await client.query(`ALTER TABLE ${registered(table)} RENAME TO ${identifier(id)}`);
    await this.forgetStaged(client, table);
    await this.letRead(client, id);
  }

  /** Lets the reader's role read a registered table. */
  async letRead(client: AnyClient, id: string): Promise<void> {
    const reader = readerName(this.connection);
    if (reader !== null) await client.query(`GRANT SELECT ON ${registered(id)} TO ${identifier(reader)}`);
  }

  /** Drops a staged table whose records are elsewhere now, inside the caller's transaction. */
  async forgetStaged(client: AnyClient, table: string): Promise<void> {
    await client.query(`DROP TABLE IF EXISTS ${qualified(STAGING, table)}`);
    await drizzle(client as Client)
      .delete(tables.stagings)
      .where(eq(tables.stagings.table, table));
  }

  /** Drops the table of an id, inside the caller's transaction. */
  async drop(client: AnyClient, id: string): Promise<void> {
    await client.query(`DROP TABLE IF EXISTS ${registered(id)}`);
  }

  /** The keys that must be unique in a table: its source's own, and those that dimensions of datasets go by. */
  async keysOf(client: AnyClient | Pool, id: string): Promise<string[][]> {
    const { rows } = await client.query<{ key: string[] }>(
      `SELECT DISTINCT key FROM (
         SELECT key FROM app.sources WHERE id = $1 AND jsonb_array_length(key) > 0
         UNION ALL
         SELECT jsonb_build_array(d.value -> 'key') FROM app.datasets, jsonb_array_elements(definition -> 'dimensions') AS d
         WHERE d.value ->> 'kind' = 'table' AND d.value ->> 'table' = $1) AS keys ORDER BY 1`,
      [id],
    );
    return rows.map(({ key }) => key);
  }

  /**
   * Has the database itself keep the keys of a table, and no others of ours. Fails with SQLSTATE 23505 where one is not
   * unique, which callers find out beforehand with `doubledKeys`.
   */
  async keepKeys(client: AnyClient, id: string): Promise<void> {
    const wanted = new Map((await this.keysOf(client, id)).map((key) => [keyName(id, key), key]));
    const { rows } = await client.query<{ name: string }>(
      `SELECT c.relname AS name FROM pg_index AS i JOIN pg_class AS c ON c.oid = i.indexrelid
       WHERE i.indrelid = to_regclass($1) AND right(c.relname, ${KEY_SUFFIX.length}) = $2`,
      [registered(id), KEY_SUFFIX],
    );
    const there = new Set(rows.map(({ name }) => name));
    const { rows: found } = await client.query<{ gone: boolean }>('SELECT to_regclass($1) IS NULL AS gone', [registered(id)]);
    // Records that stay at the source, and tables that vanished, have no index to keep.
    if (found[0].gone) return;
    for (const name of there) if (!wanted.has(name)) await client.query(`DROP INDEX ${registered(name)}`);
    for (const [name, key] of wanted) {
      if (!there.has(name))
        await client.query(`CREATE UNIQUE INDEX ${identifier(name)} ON ${registered(id)} (${key.map(identifier).join(', ')})`);
    }
  }

  /** Raises the version of datasets, so that every server loads their records anew. */
  async touch(client: AnyClient, datasets: readonly string[]): Promise<void> {
    for (const name of datasets) {
      await drizzle(client as Client)
        .update(tables.datasets)
        .set({ version: sql`${tables.datasets.version} + 1`, updatedAt: new Date() })
        .where(eq(tables.datasets.name, name));
    }
  }
}
