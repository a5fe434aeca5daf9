import type { Dataset } from '@bold-compass/core/model';

/** A name as an SQL identifier. The only way names of tables and columns enter a statement. */
export function identifier(name: string): string {
  return `"${name.replaceAll('"', '""')}"`;
}

/** A table of a schema. */
export function qualified(schema: string, table: string): string {
  return `${identifier(schema)}.${identifier(table)}`;
}

/** The table of a fact or a dimension. */
export function tableOf(dataset: Dataset, { table, schema }: { table: string; schema?: string }): string {
  return qualified(schema ?? dataset.schema, table);
}

/** A date and time of day as ISO 8601 text. */
export function dateTimeText(sql: string): string {
  return `to_char(${sql}, 'YYYY-MM-DD HH24:MI:SS')`;
}
