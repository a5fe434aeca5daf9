import { MOST_PROMPTED, type ColumnProfile, type NamedColumn } from '@bold-compass/core/modelling';
import type { AnyClient } from '../database/index.ts';
import { identifier } from '../sql/index.ts';

/** Columns with what their records say: how many different texts could become prompts, and how large numbers are. */
export async function profiled(client: AnyClient, relation: string, columns: NamedColumn[]): Promise<NamedColumn[]> {
  const found: NamedColumn[] = [];
  for (const column of columns) found.push({ ...column, profile: await profileOf(client, relation, column) });
  return found;
}

async function profileOf(client: AnyClient, relation: string, { column, type }: NamedColumn): Promise<ColumnProfile> {
  const name = identifier(column);
  if (type === 'integer') {
    const { rows } = await client.query<{ low: number | null; high: number | null }>(
      `SELECT min(${name})::float8 AS low, max(${name})::float8 AS high FROM ${relation}`,
    );
    return { distinct: 0, ...rows[0] };
  }
  if (type !== 'text' && type !== 'boolean') return { distinct: 0, low: null, high: null };
  const { rows } = await client.query<{ n: number }>(
    `SELECT count(*)::int AS n FROM (SELECT DISTINCT ${name} AS member FROM ${relation} LIMIT ${MOST_PROMPTED + 1}) AS members WHERE member IS NOT NULL`,
  );
  return { distinct: rows[0].n, low: null, high: null };
}
