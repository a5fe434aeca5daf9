import type { Dataset } from '@bold-compass/core/model';
import { eq } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import { tables, type AnyClient, type Client } from '../database/index.ts';
import type { SourceRow } from '../sources/index.ts';
import { staged as stagedName } from '../sql/index.ts';
import { boundColumns, insertBound, recipeBindings, type BoundColumn } from './bindings.ts';
import { columnDefinitions, type StagedColumn } from './stage.ts';

/** The columns of a later file that name members, as the first file's did, with their dataset. */
export async function boundByRecipe(
  client: AnyClient,
  { recipe }: SourceRow,
  columns: StagedColumn[],
): Promise<{ dataset: Dataset; bounds: BoundColumn[] } | null> {
  const name = recipe?.bindings[0]?.dataset;
  if (!recipe || name === undefined) return null;
  const [row] = await drizzle(client as Client)
    .select({ definition: tables.datasets.definition })
    .from(tables.datasets)
    .where(eq(tables.datasets.name, name));
  if (!row) return null;
  return { dataset: row.definition, bounds: boundColumns(row.definition, recipeBindings(row.definition, recipe, columns), columns) };
}

/**
 * Works with the records of a staged later file as they would be in its source: texts of bound columns are the keys of
 * their members. Must be called in a transaction.
 */
export async function withResolved<Result>(
  client: AnyClient,
  source: SourceRow,
  columns: StagedColumn[],
  staged: string,
  use: (incoming: string) => Promise<Result>,
): Promise<Result> {
  const bound = await boundByRecipe(client, source, columns);
  if (!bound || bound.bounds.length === 0) return use(stagedName(staged));
  const definitions = columns.map((column) => {
    const own = source.columns.find((one) => one.column === column.column)!;
    return { column: column.column, type: own.type, scale: own.type === 'decimal' ? Math.max(own.scale, column.scale) : 0 };
  });
  await client.query(`CREATE TEMPORARY TABLE resolved_file (${columnDefinitions(definitions)}) ON COMMIT DROP`);
  await insertBound(client, bound.dataset, bound.bounds, columns, { staged, into: 'pg_temp.resolved_file' });
  const result = await use('pg_temp.resolved_file');
  await client.query('DROP TABLE pg_temp.resolved_file');
  return result;
}
