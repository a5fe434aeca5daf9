import type { JoinAsked, JoinCheck, QueryCheck, QueryPreview, TableSample, TableSummary } from '@bold-compass/core/api';
import type { QueryParameter, SqlOrigin } from '@bold-compass/core/model';
import { bindParameters, type BoundText } from '@bold-compass/core/written';
import { AnswerTooLarge, type DescribedColumn, type Driver, type Session } from '../drivers/index.ts';
import { ApiError } from '../problems/index.ts';
import type { Connections } from './connections.ts';

const SAMPLE_ROWS = 20;
const PREVIEW_ROWS = 100;
const EXAMPLES = 5;
/** Most characters of a value that a preview shows, bytes of all of them, and rows that are read at a time. */
const SHOWN_CHARACTERS = 2_000;
const PREVIEW_BYTES = 4_000_000;
const PREVIEW_BATCH = 10;

/** The parameters' values in the order of the placeholders. */
export function parameterValues({ names }: BoundText, parameters: QueryParameter[]): (string | null)[] {
  return names.map((name) => {
    const value = parameters.find((parameter) => parameter.name === name)?.value ?? '';
    return value === '' ? null : value;
  });
}

/** A query without the semicolon that ends it. */
export const withoutEnd = (text: string): string => text.trimEnd().replace(/;(?:\s|--[^\n]*(?:\n|$)|\/\*[\s\S]*?\*\/)*$/, '');

/** A written query with its parameters, as it is put into statements. */
function boundQuery({ text, parameters }: Pick<SqlOrigin, 'text' | 'parameters'>) {
  const bound = bindParameters(text, parameters);
  return { bound, query: withoutEnd(bound.text), values: parameterValues(bound, parameters) };
}

/** The columns of a written query. Throws ApiError `query-invalid` with the reason and the place of a refusal. */
async function columnsOf(session: Session, driver: Driver, origin: WrittenQuery): Promise<DescribedColumn[]> {
  const { bound, query, values } = boundQuery(origin);
  const { text, offset } = driver.dialect.described(query);
  try {
    return await session.describe({ text, values });
  } catch (error) {
    throw writtenFailure(driver, error, origin.text, bound, offset);
  }
}

function writtenFailure(driver: Driver, error: unknown, text: string, bound: BoundText, offset: number): unknown {
  const refusal = driver.refusalOf(error);
  if (!refusal) return error;
  const { reason, message, hint } = refusal;
  /** The place in the query as it is sent, and as it is written. */
  const place = refusal.at === null ? null : refusal.at - offset;
  const at = place === null ? undefined : Math.min(bound.written(place), text.length);
  const words: Partial<Record<typeof reason, string>> = {
    writes: 'A source only reads: this would change something there.',
    'too-slow': 'This took longer than 20 seconds and was stopped. Ask for less, or let the server keep an index for it.',
    'not-open': `This is not open to the connection's user: ${message}.`,
  };
  // What stands around the query when it is run is not the writer's to read about.
  if (reason === 'syntax' && place !== null && place >= withoutEnd(bound.text).length)
    return new ApiError(
      'query-invalid',
      'The query ends too early: something is missing at its end, or it does not begin with SELECT or WITH.',
      { position: text.length },
    );
  const stacked = reason === 'syntax' && /;\s*\S/.test(withoutEnd(text));
  const detail = stacked
    ? 'One query at a time: remove everything after the first semicolon.'
    : (words[reason] ?? `${message}.${hint ? ` ${hint}` : ''}`);
  return new ApiError('query-invalid', detail, at === undefined ? {} : { position: at });
}

interface FirstRows {
  found: (string | null)[][];
  stopped: string;
}

/** Reads the first rows a few at a time, each value cut where it is long, and ends where they add up to too much. */
async function firstRows(session: Session, driver: Driver, origin: WrittenQuery, width: number, limit: number): Promise<FirstRows> {
  const { bound, query, values } = boundQuery(origin);
  // One character more tells that a value was cut.
  const { text, offset } = driver.dialect.firstRows(query, width, limit, SHOWN_CHARACTERS + 1);
  const result: FirstRows = { found: [], stopped: '' };
  let bytes = 0;
  let shortened = 0;
  try {
    const rows = session.read({ text, values });
    for (;;) {
      const batch = await rows.next(PREVIEW_BATCH);
      for (const row of batch) {
        bytes += row.reduce((sum, value) => sum + (value?.length ?? 0), 0);
        result.found.push(
          row.map((value) => {
            if (value === null || value.length <= SHOWN_CHARACTERS) return value;
            shortened++;
            return `${value.slice(0, SHOWN_CHARACTERS)}…`;
          }),
        );
      }
      if (batch.length < PREVIEW_BATCH) break;
      if (bytes > PREVIEW_BYTES) {
        result.stopped = `The rows are long: only the first ${result.found.length} are shown.`;
        await rows.close();
        break;
      }
    }
  } catch (error) {
    if (!(error instanceof AnswerTooLarge)) throw writtenFailure(driver, error, origin.text, bound, offset);
    result.stopped = `${error.message} Only the first ${result.found.length} rows are shown.`;
  }
  if (shortened > 0 && result.stopped === '')
    result.stopped = `${shortened === 1 ? 'One value is' : `${shortened} values are`} longer than ${SHOWN_CHARACTERS.toLocaleString('en-GB')} characters and shown in part.`;
  return result;
}

type WrittenQuery = Pick<SqlOrigin, 'connection' | 'text' | 'parameters'>;

/** What a source's server offers, and what a written query answers. */
export class SourceQuery {
  constructor(private readonly connections: Connections) {}

  /** The tables and views that the connection's user may read, with the server's estimate of their rows. */
  tables(connection: string): Promise<TableSummary[]> {
    return this.connections.ask(connection, (session, driver) => driver.tables(session));
  }

  /** The first rows of a table. */
  sample(connection: string, schema: string, table: string): Promise<TableSample> {
    return this.connections.ask(connection, (session, driver) =>
      previewOf(session, driver, { connection, text: driver.dialect.table(schema, table), parameters: [] }, SAMPLE_ROWS),
    );
  }

  /**
   * What the data says of a join. Keys are held against each other as texts, whatever their types. Throws ApiError
   * `query-invalid` where a table or column is not there.
   */
  joinCheck(connection: string, join: JoinAsked): Promise<JoinCheck> {
    return this.connections.ask(connection, async (session, driver) => {
      try {
        return await driver.joinCheck(session, join, EXAMPLES);
      } catch (error) {
        const refusal = driver.refusalOf(error);
        const isOfNames = refusal && ['name', 'not-open', 'syntax'].includes(refusal.reason);
        throw isOfNames ? new ApiError('query-invalid', `This join cannot be looked at: ${refusal.message}.`) : error;
      }
    });
  }

  /** The columns of a query, without running it over its records. Throws ApiError `query-invalid` with the place. */
  check(origin: WrittenQuery): Promise<QueryCheck> {
    return this.connections.ask(origin.connection, async (session, driver) => {
      const columns = await columnsOf(session, driver, origin);
      const twice = columns.find(({ name }, index) => columns.findIndex((other) => other.name === name) !== index);
      if (twice) throw new ApiError('query-invalid', `Two columns are called “${twice.name}”. Give one of them another name with AS.`);
      return { columns, parameters: bindParameters(origin.text, origin.parameters).names };
    });
  }

  /** The first rows that a query answers, as far as they are not too large: then with what was read, and why it stopped. */
  preview(origin: WrittenQuery, rows = PREVIEW_ROWS): Promise<QueryPreview> {
    return this.connections.ask(origin.connection, (session, driver) => previewOf(session, driver, origin, rows));
  }
}

async function previewOf(session: Session, driver: Driver, origin: WrittenQuery, rows: number): Promise<QueryPreview> {
  const columns = await columnsOf(session, driver, origin);
  const { found, stopped } = await firstRows(session, driver, origin, columns.length, rows);
  return { columns, rows: found, stopped };
}
