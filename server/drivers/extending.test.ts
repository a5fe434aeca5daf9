import { describe, expect, it } from 'vitest';
import { SourceQuery, type Connections } from '../connections/index.ts';
import type { Driver, Session } from './driver.ts';

/** A kind of database that nobody has heard of, added by a record of its port and nothing else: one list, asked in words of its own. */

const ROWS = [
  ['Oslo', '12.50'],
  ['Pisa', null],
  ['Lund', 'x'.repeat(3_000)],
];

class NotUnderstood extends Error {
  constructor(readonly at: number) {
    super('this is not “all shops”');
  }
}

/** Understands "all shops", and nothing else; it is asked for columns, or for so many rows. */
function sessionOf(open: Set<string>): Session {
  open.add('session');
  const understand = (text: string): RegExpExecArray => {
    const asked = /^(columns|\d+ rows) of <(.*)>$/s.exec(text);
    if (!asked || !asked[2].startsWith('all shops')) throw new NotUnderstood(text.indexOf('<') + 1);
    return asked;
  };
  return {
    query: () => Promise.reject(new Error('It has no statements of its own.')),
    describe: ({ text }) =>
      Promise.resolve().then(() => {
        understand(text);
        return [
          { name: 'shop', type: 'text' as const, scale: 0, approximate: false },
          { name: 'amount', type: 'decimal' as const, scale: 2, approximate: false },
        ];
      }),
    read({ text }) {
      const left = ROWS.slice(0, Number.parseInt(understand(text)[1], 10));
      return { next: (count) => Promise.resolve(left.splice(0, count)), close: () => Promise.resolve() };
    },
    countAnew: () => undefined,
    end: () => Promise.resolve(void open.delete('session')),
  };
}

const shops: Driver = {
  open: () => Promise.resolve(sessionOf(new Set())),
  refuseOwn: () => Promise.resolve(),
  tables: () => Promise.resolve([{ schema: 'all', name: 'shops', rows: 3, columns: [], references: [] }]),
  joinCheck: () => Promise.reject(new NotUnderstood(0)),
  refusalOf: (error) => (error instanceof NotUnderstood ? { reason: 'name', message: error.message, hint: '', at: error.at } : null),
  dialect: {
    described: (query) => ({ text: `columns of <${query}>`, offset: 'columns of <'.length }),
    firstRows(query, _columns, rows) {
      const head = `${rows} rows of <`;
      return { text: `${head}${query}>`, offset: head.length };
    },
    columns: (query) => query,
    table: (schema, table) => `${schema} ${table}`,
  },
};

describe('a kind of database that is added', () => {
  const open = new Set<string>();
  const connections = {
    ask: async <Result>(_id: string, question: (session: Session, driver: Driver) => Promise<Result>): Promise<Result> => {
      const session = sessionOf(open);
      return question(session, shops).finally(() => session.end());
    },
  };
  const query = new SourceQuery(connections as unknown as Connections);
  const written = (text: string) => ({ connection: 'shops', text, parameters: [] });

  it('offers its tables, and shows their first rows with long values cut', async () => {
    expect((await query.tables('shops')).map(({ name }) => name)).toEqual(['shops']);
    const { columns, rows, stopped } = await query.sample('shops', 'all', 'shops');
    expect(columns.map(({ name, type }) => [name, type])).toEqual([
      ['shop', 'text'],
      ['amount', 'decimal'],
    ]);
    expect(rows.slice(0, 2)).toEqual(ROWS.slice(0, 2));
    expect(rows[2][1]).toBe(`${'x'.repeat(2_000)}…`);
    expect(stopped).toContain('One value is longer than 2,000 characters');
    expect((await query.preview(written('all shops;'), 1)).rows).toEqual([ROWS[0]]);
    expect(open.size).toBe(0);
  });

  it('checks written queries, and its refusals are told with their place', async () => {
    expect((await query.check(written('all shops'))).columns).toHaveLength(2);
    await expect(query.check(written('no shops'))).rejects.toMatchObject({
      code: 'query-invalid',
      message: expect.stringContaining('this is not “all shops”') as string,
      // Where the query begins, without what stands around it when it is sent.
      about: { position: 0 },
    });
    const join = { schema: 'a', table: 'b', column: 'c', toSchema: 'd', toTable: 'e', key: 'f' };
    await expect(query.joinCheck('shops', join)).rejects.toMatchObject({ code: 'query-invalid' });
    expect(open.size).toBe(0);
  });
});
