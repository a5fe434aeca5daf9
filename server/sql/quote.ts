import type { Dataset, Fact, TableDimension } from '@bold-compass/core/model';

/** A name as an SQL identifier. The only way names of tables and columns enter a statement. */
export function identifier(name: string): string {
  return `"${name.replaceAll('"', '""')}"`;
}

/** A table of a schema. */
export function qualified(schema: string, table: string): string {
  return `${identifier(schema)}.${identifier(table)}`;
}

type TablePart = Pick<Fact, 'table' | 'schema'> & Partial<Pick<TableDimension, 'tree' | 'key' | 'levels'>>;

/** The table of a fact or a dimension, to be given an alias; a tree is laid out in levels. */
export function tableOf(dataset: Dataset, part: TablePart): string {
  const table = qualified(part.schema ?? dataset.schema, part.table);
  return part.tree && part.key && part.levels ? treeTable(table, part.key, part.tree, part.levels.length) : table;
}

/**
 * A parent–child table with one row a member and its way from the root in columns: a member's own records stand below it
 * with no member at the next level. Rows whose parent is nowhere are roots; rows in a ring cannot be reached and are left
 * out. The depth is cut at the number of levels.
 */
function treeTable(table: string, key: string, { parent, label }: NonNullable<TableDimension['tree']>, depth: number): string {
  const [k, p, l] = [key, parent, label].map(identifier);
  const columns = Array.from({ length: depth }, (_, index) => {
    const level = index + 1;
    return `way[${level}] AS level_${level}, labels[${level}] AS level_${level}_label`;
  });
  return `(WITH RECURSIVE walk AS (
    SELECT c.${k} AS key, ARRAY[c.${k}::text] AS way, ARRAY[c.${l}::text] AS labels
    FROM ${table} AS c WHERE c.${p} IS NULL OR NOT EXISTS (SELECT FROM ${table} AS above WHERE above.${k} = c.${p})
    UNION ALL
    SELECT c.${k}, w.way || c.${k}::text, w.labels || c.${l}::text
    FROM walk AS w JOIN ${table} AS c ON c.${p} = w.key WHERE c.${k}::text <> ALL (w.way)
  ) SELECT c.*, w.way, ${columns.join(', ')} FROM walk AS w JOIN ${table} AS c ON c.${k} = w.key)`;
}

/** A date and time of day as ISO 8601 text. */
export function dateTimeText(sql: string): string {
  return `to_char(${sql}, 'YYYY-MM-DD HH24:MI:SS')`;
}
