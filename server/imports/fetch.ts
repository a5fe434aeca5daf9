import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { SqlOrigin } from '@bold-compass/core/model';
import { bindParameters } from '@bold-compass/core/written';
import { from as copyFrom } from 'pg-copy-streams';
import { parameterValues, withoutEnd } from '../connections/index.ts';
import { AnswerTooLarge, driverOf, type ConnectionSettings, type Driver, type Session } from '../drivers/index.ts';
import { openClient, type Client } from '../database/index.ts';
import { ApiError } from '../problems/index.ts';
import { identifier, staged as stagedName } from '../sql/index.ts';
import { widenPrecision, type FetchedColumn, type WidenedColumn } from '../tables/index.ts';
import type { OnProgress } from './row.ts';
import { csvCell, sqlType, type Staged } from './stage.ts';

/** Most records that a source brings in. */
const MOST_ROWS = 20_000_000;
/** Rows that are read at a time: few at first, and as many as fit once their size is known. */
const FIRST_BATCH = 100;
const MOST_BATCH = 5_000;
const BATCH_BYTES = 16_000_000;
/** The longest that the query of a source may take, and the most bytes of a row and of one batch: rows may grow from one to the next. */
const LIMITS = { milliseconds: 30 * 60 * 1000, rowBytes: 8_000_000, answerBytes: 256_000_000 };

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
  remote: ConnectionSettings;
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
  const driver = driverOf('postgresql');
  const source = await driver.open(remote, LIMITS);
  let client: Client | undefined;
  try {
    client = await openClient({ connectionString: url });
    await client.query('BEGIN');
    // Numbers are kept with all their digits until it is known how many there are.
    const definitions = columns.map(
      (one) => `${identifier(one.column)} ${one.type === 'decimal' ? 'numeric' : sqlType({ ...one, scale: 0 })}`,
    );
    await client.query(`CREATE TABLE ${stagedName(table)} (${definitions.join(', ')})`);
    const target = client.query(copyFrom(`COPY ${stagedName(table)} FROM STDIN (FORMAT csv)`));
    await pipeline(Readable.from(lines(source, driver, task, staged, onProgress)), target);
    const { columns: widened, notes } = await widenPrecision(client, table, columns, isFirst);
    await client.query('COMMIT');
    if (staged.emptied > 0)
      notes.push(`${staged.emptied.toLocaleString('en-GB')} values that are no numbers (NaN, infinity) were left empty.`);
    return { ...staged, columns: widened, notes };
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
  source: Session,
  { dialect }: Driver,
  { origin, columns, expected }: FetchTask,
  staged: Staged,
  onProgress: OnProgress,
): AsyncGenerator<string> {
  const bound = bindParameters(origin.text, origin.parameters);
  const isNumber = columns.map(({ type }) => type === 'decimal');
  const isDate = columns.map(({ type }) => type === 'date' || type === 'datetime');
  const answered = columns.map(({ from, type, approximate }) => ({ name: from, type, approximate }));
  const records = source.read({
    text: dialect.columns(withoutEnd(bound.text), answered),
    values: parameterValues(bound, origin.parameters),
  });
  const cell = (value: string | null, column: number): string => {
    const isNothing = value !== null && ((isNumber[column] && NO_NUMBER.test(value)) || (isDate[column] && NO_DAY.test(value)));
    if (!isNothing) return csvCell(value);
    staged.emptied++;
    return csvCell(null);
  };
  let batch = FIRST_BATCH;
  for (;;) {
    source.countAnew();
    const rows = await records.next(batch);
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
