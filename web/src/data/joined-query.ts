import { quoted } from './sql-names.ts';
import type { TableSummary } from '@bold-compass/core/api';

/** A table joined to one that stands before it: `column` of `of` names the rows of `table` by its `key`. */
export interface TableJoin {
  table: string;
  of: string;
  column: string;
  key: string;
}

export const tableId = ({ schema, name }: Pick<TableSummary, 'schema' | 'name'>): string => `${schema}.${name}`;

/**
 * How a table most likely joins one of those before it: by a foreign key either way, else by the table's first column
 * under the same name. Another column of one name would rather join many rows to many.
 */
export function likelyJoin(before: TableSummary[], table: TableSummary): TableJoin {
  const id = tableId(table);
  for (const other of before) {
    const onto = other.references.find((one) => one.schema === table.schema && one.table === table.name);
    if (onto) return { table: id, of: tableId(other), column: onto.column, key: onto.key };
    const from = table.references.find((one) => one.schema === other.schema && one.table === other.name);
    if (from) return { table: id, of: tableId(other), column: from.key, key: from.column };
  }
  for (const other of before) {
    const key = table.columns[0]?.name;
    if (other.columns.some(({ name }) => name === key)) return { table: id, of: tableId(other), column: key, key };
  }
  return { table: id, of: '', column: '', key: '' };
}

/** The query that joins tables; a name that two of them have is told with its table, and a join's key is there once. */
export function joinedQuery(tables: TableSummary[], first: TableSummary, joins: TableJoin[]): string {
  const alias = (index: number): string => (index < 26 ? String.fromCharCode(97 + index) : `t${index}`);
  const parts = [first, ...joins.map(({ table }) => tables.find((one) => tableId(one) === table)!)];
  const aliasOf = (id: string): string => alias(parts.findIndex((one) => tableId(one) === id));
  const taken = new Set<string>();
  const columns = parts.flatMap((table, index) =>
    table.columns.flatMap(({ name }) => {
      if (index > 0 && joins[index - 1].key === name && joins[index - 1].column === name) return [];
      let own = name;
      for (let number = 1; taken.has(own); number++) own = `${table.name}_${name}${number > 1 ? `_${number}` : ''}`;
      taken.add(own);
      return [`${alias(index)}.${quoted(name)}${own === name ? '' : ` AS ${quoted(own)}`}`];
    }),
  );
  const from = ({ schema, name }: TableSummary, index: number): string => `${quoted(schema)}.${quoted(name)} AS ${alias(index)}`;
  const lines = joins.map(
    ({ of, column, key }, index) =>
      `LEFT JOIN ${from(parts[index + 1], index + 1)} ON ${alias(index + 1)}.${quoted(key)} = ${aliasOf(of)}.${quoted(column)}`,
  );
  return `SELECT\n  ${columns.join(',\n  ')}\nFROM ${from(first, 0)}\n${lines.join('\n')}\n`;
}
