import type { TableSummary } from '@bold-compass/core/api';
import { describe, expect, it } from 'vitest';
import { exampleQuery } from './example-query.ts';

const table = (name: string, rows: number, columns: [name: string, type: string][]): TableSummary =>
  ({ schema: 'warehouse', name, rows, columns: columns.map(([column, type]) => ({ name: column, type })) }) as TableSummary;

describe('the example that an empty query offers', () => {
  it('counts the rows of the largest table by a column of texts', () => {
    const tables = [
      table('small', 5, [['word', 'text']]),
      table('order', 900, [
        ['id', 'integer'],
        ['Placed by', 'character varying'],
      ]),
    ];
    expect(exampleQuery(tables)).toBe(
      'SELECT "Placed by", count(*) AS number\nFROM warehouse."order"\nGROUP BY "Placed by"\nORDER BY number DESC',
    );
  });

  it('quotes columns whose names are words of SQL', () => {
    expect(exampleQuery([table('tickets', 3, [['user', 'text']])])).toContain('SELECT "user", count(*)');
  });

  it('shows some rows where there are no texts, and nothing where there is no table', () => {
    expect(exampleQuery([table('readings', 3, [['value', 'numeric']])])).toBe('SELECT *\nFROM warehouse.readings\nLIMIT 100');
    expect(exampleQuery([])).toBe('');
  });
});
