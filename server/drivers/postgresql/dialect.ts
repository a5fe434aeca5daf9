import { identifier, qualified } from '../../sql/index.ts';
import type { SourceDialect } from '../driver.ts';

/**
 * A query as a part of another one. A comment at its end must not swallow what follows, and only one statement can be
 * written so: a second one is no longer SQL.
 */
const within = (head: string, query: string, tail: string): string => `${head}${query}\n) AS q${tail}`;

export const postgresqlDialect: SourceDialect = {
  described(query) {
    const head = 'SELECT * FROM (\n';
    return { text: within(head, query, ' LIMIT 0'), offset: head.length };
  },
  firstRows(query, columns, rows, characters) {
    const names = Array.from({ length: columns }, (_, index) => `c${index}`);
    const head = `SELECT ${names.map((name) => `left(${name}::text, ${Number(characters)}) AS ${name}`).join(', ') || '1'} FROM (\n`;
    return { text: within(head, query, `${columns > 0 ? `(${names.join(', ')})` : ''} LIMIT ${Number(rows)}`), offset: head.length };
  },
  columns(query, columns) {
    const outputs = columns.map(({ name, type, approximate }) => {
      if (type === 'datetime') return `${identifier(name)}::timestamp`;
      // Floating-point numbers as texts keep all their digits; amounts of money are only numbers once they are cast.
      if (type === 'decimal') return `${identifier(name)}::${approximate ? 'text' : 'numeric'}`;
      return identifier(name);
    });
    return within(`SELECT ${outputs.join(', ')} FROM (\n`, query, '');
  },
  table: (schema, table) => `SELECT * FROM ${qualified(schema, table)}`,
};
