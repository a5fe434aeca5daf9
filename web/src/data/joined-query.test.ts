import type { TableSummary } from '@bold-compass/core/api';
import { describe, expect, it } from 'vitest';
import { joinedQuery, likelyJoin } from './joined-query.ts';
import { quoted } from './sql-names.ts';

const table = (name: string, columns: string[], references: TableSummary['references'] = []): TableSummary => ({
  ...{ schema: 'shop', name, rows: 0, references },
  columns: columns.map((column) => ({ name: column, type: 'text' })),
});
const sales = table('sales', ['sale_id', 'seller', 'store_id', 'name'], [{ column: 'seller', schema: 'shop', table: 'people', key: 'id' }]);
const people = table('people', ['id', 'name', 'Lead']);
const stores = table('stores', ['store_id', 'name']);

describe('several tables as one query', () => {
  it('are joined by foreign keys either way, else by keys of one name', () => {
    expect(likelyJoin([sales], people)).toEqual({ table: 'shop.people', of: 'shop.sales', column: 'seller', key: 'id' });
    expect(likelyJoin([people], sales)).toEqual({ table: 'shop.sales', of: 'shop.people', column: 'id', key: 'seller' });
    expect(likelyJoin([people, sales], stores)).toEqual({ table: 'shop.stores', of: 'shop.sales', column: 'store_id', key: 'store_id' });
    expect(likelyJoin([people], stores)).toMatchObject({ of: '', key: '' });
  });
  it('give each column one name', () => {
    const joins = [likelyJoin([sales], people), likelyJoin([sales, people], stores)];
    expect(joinedQuery([sales, people, stores], sales, joins)).toBe(
      [
        'SELECT',
        '  a.sale_id,',
        '  a.seller,',
        '  a.store_id,',
        '  a.name,',
        '  b.id,',
        '  b.name AS people_name,',
        '  b."Lead",',
        '  c.name AS stores_name',
        'FROM shop.sales AS a',
        'LEFT JOIN shop.people AS b ON b.id = a.seller',
        'LEFT JOIN shop.stores AS c ON c.store_id = a.store_id',
        '',
      ].join('\n'),
    );
  });
  it('quote names only where they must be', () => {
    expect([quoted('plain_1'), quoted('Order'), quoted('a"b')]).toEqual(['plain_1', '"Order"', '"a""b"']);
  });
});
