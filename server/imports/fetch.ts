import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { SqlOrigin } from '@bold-compass/core/model';
import { bindParameters } from '@bold-compass/core/written';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import Cursor from 'pg-cursor';
import { AS_TEXT, asSubquery, openReadOnly, parameterValues } from '../connections/index.ts';
import { ApiError } from '../http/problems.ts';
import { identifier, qualified } from '../sql/index.ts';
import type { OnProgress } from './row.ts';
import { csvCell, tableDefinition, type Staged, type StagedColumn } from './stage.ts';

/** Most records that a source brings in, and the longest its query may take. */
const MOST_ROWS = 20_000_000;
const FETCH_MILLISECONDS = 30 * 60 * 1000;
const BATCH = 5_000;

export interface FetchColumn extends Omit<StagedColumn, 'source'> {
  /** Name in the query's answer. */
  from: string;
}

export interface FetchTask {
  /** Where the records go. */
  url: string;
  schema: string;
  table: string;
  /** Where they come from. */
  remote: pg.ClientConfig;
  origin: SqlOrigin;
  columns: FetchColumn[];
  /** Records last time, for the progress; 0 where nobody knows. */
  expected: number;
}

/** Brings the answer of a query into a new table, in one transaction. Throws ApiError; nothing is left behind then. */
export async function fetchQuery(
  { url, schema, table, remote, origin, columns, expected }: FetchTask,
  onProgress: OnProgress,
): Promise<Staged> {
  const staged: Staged = { rows: 0, skipped: 0, emptied: 0 };
  const source = await openReadOnly(remote, FETCH_MILLISECONDS);
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  try {
    await client.query('BEGIN');
    await client.query(`CREATE SCHEMA IF NOT EXISTS ${identifier(schema)}`);
    await client.query(tableDefinition(schema, table, columns));
    const target = client.query(copyFrom(`COPY ${qualified(schema, table)} FROM STDIN (FORMAT csv)`));
    await pipeline(Readable.from(lines(source, origin, columns, staged, expected, onProgress)), target);
    await client.query('COMMIT');
    return staged;
  } finally {
    await Promise.allSettled([source.end(), client.end()]);
  }
}

async function* lines(
  source: pg.Client,
  origin: SqlOrigin,
  columns: FetchColumn[],
  staged: Staged,
  expected: number,
  onProgress: OnProgress,
): AsyncGenerator<string> {
  const bound = bindParameters(origin.text, origin.parameters);
  const outputs = columns.map(({ from, type }) => (type === 'datetime' ? `${identifier(from)}::timestamp` : identifier(from)));
  const { sql } = asSubquery(bound.text);
  const cursor = source.query(
    new Cursor<(string | null)[]>(sql.replace('*', outputs.join(', ')), parameterValues(bound, origin.parameters), {
      rowMode: 'array',
      types: AS_TEXT as unknown as pg.CustomTypesConfig,
    }),
  );
  for (;;) {
    const rows = await cursor.read(BATCH);
    if (rows.length === 0) return;
    staged.rows += rows.length;
    if (staged.rows > MOST_ROWS) {
      throw new ApiError(
        'too-large',
        `This query answers more than ${MOST_ROWS.toLocaleString('en-GB')} records. Ask for fewer, or leave them where they are.`,
      );
    }
    onProgress(expected > 0 ? Math.min(0.99, staged.rows / expected) : 0);
    yield `${rows.map((row) => row.map(csvCell).join(',')).join('\n')}\n`;
  }
}
