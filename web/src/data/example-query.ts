import type { TableSummary } from '@bold-compass/core/api';
import { quoted } from './sql-names.ts';

/** A query that runs on the tables at hand and shows what can be done: the rows of the largest one, counted by a column of texts. */
export function exampleQuery(tables: readonly TableSummary[]): string {
  const table = tables.reduce<TableSummary | null>((most, one) => (most && most.rows >= one.rows ? most : one), null);
  if (!table) return '';
  const from = `FROM ${quoted(table.schema)}.${quoted(table.name)}`;
  const words = table.columns.find(({ type }) => /char|text/.test(type));
  if (!words) return `SELECT *\n${from}\nLIMIT 100`;
  return `SELECT ${quoted(words.name)}, count(*) AS number\n${from}\nGROUP BY ${quoted(words.name)}\nORDER BY number DESC`;
}
