import type { JoinAsked, JoinCheck, TableSummary } from '@bold-compass/core/api';
import { identifier, qualified } from '../../sql/index.ts';
import type { Session } from '../driver.ts';

/** The tables and views that the session's user may read, with the server's estimate of their rows. */
export async function tablesOf(session: Session): Promise<TableSummary[]> {
  const { rows } = await session.query(
    `SELECT n.nspname AS schema, c.relname AS name, greatest(c.reltuples, 0)::float8 AS rows,
       (SELECT coalesce(json_agg(json_build_object('name', a.attname, 'type', format_type(a.atttypid, a.atttypmod)) ORDER BY a.attnum), '[]')
        FROM pg_attribute AS a WHERE a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped) AS columns,
       (SELECT coalesce(json_agg(json_build_object('column', a.attname, 'schema', tn.nspname, 'table', t.relname, 'key', k.attname)), '[]')
        FROM pg_constraint AS f JOIN pg_class AS t ON t.oid = f.confrelid JOIN pg_namespace AS tn ON tn.oid = t.relnamespace
        JOIN pg_attribute AS a ON a.attrelid = f.conrelid AND a.attnum = f.conkey[1]
        JOIN pg_attribute AS k ON k.attrelid = f.confrelid AND k.attnum = f.confkey[1]
        WHERE f.conrelid = c.oid AND f.contype = 'f' AND cardinality(f.conkey) = 1) AS references
     FROM pg_class AS c JOIN pg_namespace AS n ON n.oid = c.relnamespace
     WHERE c.relkind IN ('r', 'v', 'm', 'p', 'f') AND n.nspname NOT IN ('pg_catalog', 'information_schema') AND n.nspname NOT LIKE 'pg\\_toast%'
       AND has_schema_privilege(n.oid, 'USAGE') AND has_table_privilege(c.oid, 'SELECT')
     ORDER BY 1, 2`,
  );
  return rows as unknown as TableSummary[];
}

/** What the data says of a join. */
export async function joinCheck(
  session: Session,
  { schema, table, column, toSchema, toTable, key }: JoinAsked,
  examples: number,
): Promise<JoinCheck> {
  const [from, to] = [qualified(schema, table), qualified(toSchema, toTable)];
  const [named, own] = [`f.${identifier(column)}::text`, `t.${identifier(key)}::text`];
  const { rows } = await session.query(
    `WITH doubled AS (SELECT ${own} AS key FROM ${to} AS t WHERE ${own} IS NOT NULL GROUP BY 1 HAVING count(*) > 1)
     SELECT (SELECT count(*)::int FROM ${from} AS f WHERE ${named} IS NOT NULL) AS named,
       (SELECT count(*)::int FROM ${from} AS f WHERE ${named} IS NOT NULL AND NOT EXISTS (SELECT FROM ${to} AS t WHERE ${own} = ${named})) AS missing,
       (SELECT count(*)::int FROM doubled) AS doubled,
       coalesce((SELECT array_agg(key) FROM (SELECT key FROM doubled ORDER BY key LIMIT ${Number(examples)}) AS few), '{}') AS examples`,
  );
  return rows[0] as unknown as JoinCheck;
}
