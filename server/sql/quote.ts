/** A name as an SQL identifier. The only way names of tables and columns enter a statement. */
export function identifier(name: string): string {
  return `"${name.replaceAll('"', '""')}"`;
}

/** A table of a schema. */
export function qualified(schema: string, table: string): string {
  return `${identifier(schema)}.${identifier(table)}`;
}
