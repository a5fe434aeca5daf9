import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { SqlOrigin } from '@bold-compass/core/model';
import { bindParameters } from '@bold-compass/core/written';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import Cursor from 'pg-cursor';
import { AS_TEXT, AnswerTooLarge, openReadOnly, parameterValues, withoutEnd, type AnswerLimit } from '../connections/index.ts';
import { openClient } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';
import { identifier, staged as stagedName } from '../sql/index.ts';
import { widenPrecision, type FetchedColumn, type WidenedColumn } from '../tables/index.ts';
import type { OnProgress } from './row.ts';
import { csvCell, sqlType, type Staged } from './stage.ts';

/** Most records that a source brings in, and the longest its query may take. */
const MOST_ROWS = 20_000_000;
const FETCH_MILLISECONDS = 30 * 60 * 1000;
/** Rows that are read at a time: few at first, and as many as fit once their size is known. */
const FIRST_BATCH = 100;
const MOST_BATCH = 5_000;
const BATCH_BYTES = 16_000_000;
/** Most bytes of one batch: rows may grow from one batch to the next. */
const MOST_BATCH_BYTES = 256_000_000;

export interface FetchColumn extends FetchedColumn {
  /** Name in the query's answer. */
  from: string;
}

export interface FetchTask {
  /** Where the records go. */
  url: string;
  /** The staged table, as named by the store. */
  table: string;
  /** Where they come from. */
  remote: pg.ClientConfig;
  origin: SqlOrigin;
  columns: FetchColumn[];
  /** Records last time, for the progress; 0 where nobody knows. */
  expected: number;
  /** Whether these are the first records of the source. */
  isFirst: boolean;
}

export interface Fetched extends Staged {
  /** What the columns turned out to be. */
  columns: WidenedColumn[];
  /** What happened to values, in sentences. */
  notes: string[];
}

/** Copies the answer of a query into a new table, in one transaction. Throws ApiError; nothing is left behind then. */
export async function fetchQuery(task: FetchTask, onProgress: OnProgress): Promise<Fetched> {
  const { url, table, remote, columns, isFirst } = task;
  const staged: Staged = { rows: 0, skipped: 0, emptied: 0, rounded: 0 };
  const { client: source, limit } = await openReadOnly(remote, FETCH_MILLISECONDS, MOST_BATCH_BYTES);
  let client: pg.Client | undefined;
  try {
    client = await openClient({ connectionString: url });
    await client.query('BEGIN');
    // Numbers are kept with all their digits until it is known how many there are.
    const definitions = columns.map(
      (one) => `${identifier(one.column)} ${one.type === 'decimal' ? 'numeric' : sqlType({ ...one, scale: 0 })}`,
    );
    await client.query(`CREATE TABLE ${stagedName(table)} (${definitions.join(', ')})`);
    const target = client.query(copyFrom(`COPY ${stagedName(table)} FROM STDIN (FORMAT csv)`));
    await pipeline(Readable.from(lines(source, limit, task, staged, onProgress)), target);
    const { columns: settled, notes } = await widenPrecision(client, table, columns, isFirst);
    await client.query('COMMIT');
    if (staged.emptied > 0)
      notes.push(`${staged.emptied.toLocaleString('en-GB')} values that are no numbers (NaN, infinity) were left empty.`);
    return { ...staged, columns: settled, notes };
  } catch (error) {
    throw error instanceof AnswerTooLarge
      ? new ApiError(
          'too-large',
          `A record of this query is too large: ${error.message} Leave long columns out, or shorten them with left(…).`,
        )
      : error;
  } finally {
    await Promise.allSettled([source.end(), client?.end()]);
  }
}

const NO_NUMBER = /^-?(?:NaN|Infinity)$/;
/** Dates that are no day that ISO 8601 writes with four digits of the year. */
const NO_DAY = /^-?infinity$|BC$|^\d{5}/;

async function* lines(
  source: pg.Client,
  limit: AnswerLimit,
  { origin, columns, expected }: FetchTask,
  staged: Staged,
  onProgress: OnProgress,
): AsyncGenerator<string> {
  const bound = bindParameters(origin.text, origin.parameters);
  const outputs = columns.map(({ from, type, approximate }) => {
    if (type === 'datetime') return `${identifier(from)}::timestamp`;
    // Floating-point numbers as texts keep all their digits; amounts of money are only numbers once they are cast.
    if (type === 'decimal') return `${identifier(from)}::${approximate ? 'text' : 'numeric'}`;
    return identifier(from);
  });
  const isNumber = columns.map(({ type }) => type === 'decimal');
  const isDate = columns.map(({ type }) => type === 'date' || type === 'datetime');
  const cursor = source.query(
    new Cursor<(string | null)[]>(
      `SELECT ${outputs.join(', ')} FROM (\n${withoutEnd(bound.text)}\n) AS q`,
      parameterValues(bound, origin.parameters),
      { rowMode: 'array', types: AS_TEXT as unknown as pg.CustomTypesConfig },
    ),
  );
  const cell = (value: string | null, column: number): string => {
    const isNothing = value !== null && ((isNumber[column] && NO_NUMBER.test(value)) || (isDate[column] && NO_DAY.test(value)));
    if (!isNothing) return csvCell(value);
    staged.emptied++;
    return csvCell(null);
  };
  let batch = FIRST_BATCH;
  for (;;) {
    limit.reset();
    const rows = await cursor.read(batch);
    if (rows.length === 0) return;
    staged.rows += rows.length;
    if (staged.rows > MOST_ROWS) {
      throw new ApiError(
        'too-large',
        `This query answers more than ${MOST_ROWS.toLocaleString('en-GB')} records. Ask for fewer, or leave them at the source.`,
      );
    }
    onProgress(expected > 0 ? Math.min(0.99, staged.rows / expected) : 0);
    const texts = rows.map((row) => row.map(cell).join(','));
    const longest = texts.reduce((most, { length }) => Math.max(most, length), 1);
    batch = Math.max(1, Math.min(MOST_BATCH, Math.floor(BATCH_BYTES / longest)));
    yield `${texts.join('\n')}\n`;
  }
}
