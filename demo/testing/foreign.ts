import { expect } from 'vitest';
import type { DemoApp } from './database.ts';

/** Fails when an answer names a place or customer of another region than Nordic, in whatever field or sentence. */
export async function foreignNames({ connection }: DemoApp): Promise<(body: unknown) => void> {
  const { rows } = await connection.pool.query<{ name: string }>(
    `SELECT DISTINCT unnest(ARRAY[region, country, city, showroom]) AS name FROM imported.showrooms WHERE region <> 'Nordic'
     UNION SELECT customer FROM imported.customers c WHERE NOT EXISTS (SELECT 1 FROM imported.order_lines o JOIN imported.showrooms s USING (showroom_id) WHERE o.customer_id = c.customer_id AND region = 'Nordic') AND segment <> 'Household'`,
  );
  const foreign = new Set(rows.map(({ name }) => name));
  // Names in sentences too: "Share of Atlantic". A word of a longer name of one's own is no name of others.
  const words = new RegExp(
    `(?<![\\p{L}\\p{N}-])(?:${rows.map(({ name }) => name.replaceAll(/[^\p{L}\p{N} ]/gu, '\\$&')).join('|')})(?![\\p{L}\\p{N}-])`,
    'u',
  );
  return (body) => {
    const found: string[] = [];
    const visit = (value: unknown): void => {
      if (typeof value === 'string') {
        if (foreign.has(value) || (value.includes(' ') && words.test(value))) found.push(value);
      } else if (value && typeof value === 'object') {
        for (const [key, part] of Object.entries(value)) {
          visit(key);
          visit(part);
        }
      }
    };
    visit(body);
    expect(found).toEqual([]);
  };
}
