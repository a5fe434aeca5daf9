import type { ColumnType } from '@bold-compass/core/model';
import pg from 'pg';
import Cursor from 'pg-cursor';
import { ApiError } from '../../problems/index.ts';
import type { Bound, ConnectionSettings, DescribedColumn, Session, SessionLimits, TextRows } from '../driver.ts';
import { AnswerLimit } from './answer-limit.ts';

const { builtins } = pg.types;
const TYPES: Record<number, ColumnType> = {
  [builtins.INT2]: 'integer',
  [builtins.INT4]: 'integer',
  [builtins.INT8]: 'integer',
  [builtins.NUMERIC]: 'decimal',
  [builtins.MONEY]: 'decimal',
  [builtins.FLOAT4]: 'decimal',
  [builtins.FLOAT8]: 'decimal',
  [builtins.DATE]: 'date',
  [builtins.TIMESTAMP]: 'datetime',
  [builtins.TIMESTAMPTZ]: 'datetime',
  [builtins.BOOL]: 'boolean',
};

/** Texts as the server writes them, whatever their type. */
const AS_TEXT = { getTypeParser: () => (value: string) => value };

function columnOf({ name, dataTypeID, dataTypeModifier }: pg.FieldDef): DescribedColumn {
  const type = TYPES[dataTypeID] ?? 'text';
  // The modifier of numeric(p, s) is ((p << 16) | s) + 4 (PostgreSQL source, numeric.c).
  const declared = dataTypeID === builtins.NUMERIC && dataTypeModifier >= 4 ? (dataTypeModifier - 4) & 0x7ff : null;
  const money = dataTypeID === builtins.MONEY ? 2 : declared;
  return {
    ...{ name, type, scale: type === 'decimal' ? money : 0 },
    approximate: dataTypeID === builtins.FLOAT4 || dataTypeID === builtins.FLOAT8,
  };
}

const rowsOf = (cursor: Cursor<(string | null)[]>): TextRows => ({
  next: (count) => cursor.read(count),
  close: () => cursor.close(),
});

/** Connects and begins a read-only transaction. Throws ApiError `connection-failed` in words for people. */
export async function openSession(settings: ConnectionSettings, limits: SessionLimits): Promise<Session> {
  const limit = new AnswerLimit(limits.rowBytes, limits.answerBytes);
  const client = new pg.Client({
    ...settings,
    ssl: false,
    stream: () => limit.socket,
    connectionTimeoutMillis: 5_000,
    application_name: 'Bold Compass',
  });
  // What breaks off fails the question that waits for it; between questions nobody needs to hear.
  client.on('error', () => undefined);
  try {
    await client.connect();
    await client.query(`SET statement_timeout = ${limits.milliseconds}`);
    await client.query(`SET datestyle = 'ISO, YMD'`);
    await client.query('BEGIN READ ONLY');
  } catch (error) {
    await client.end().catch(() => undefined);
    throw connectionFailure(error);
  }
  return {
    query: (text, values) => client.query<Record<string, unknown>>(text, values),
    async describe({ text, values }: Bound) {
      const { fields } = await client.query({
        ...{ text, values: [...values], rowMode: 'array', types: AS_TEXT },
        // The extended protocol takes one statement at a time.
        queryMode: 'extended',
      } as pg.QueryArrayConfig);
      return fields.map(columnOf);
    },
    read: ({ text, values }) =>
      rowsOf(
        client.query(
          new Cursor<(string | null)[]>(text, [...values], { rowMode: 'array', types: AS_TEXT as unknown as pg.CustomTypesConfig }),
        ),
      ),
    countAnew: () => limit.reset(),
    end: () => client.end(),
  };
}

function connectionFailure(error: unknown): ApiError {
  const { code, message } = error as { code?: string; message?: string };
  const words: Record<string, string> = {
    ECONNREFUSED: 'Nothing answers at this host and port. Are they right, and is the server running?',
    ENOTFOUND: 'There is no host of this name. Is it spelled right?',
    ETIMEDOUT: 'The server does not answer. Is it behind a firewall?',
    '28P01': 'The server refused the user or the password.',
    '28000': 'The server refused this user.',
    '3D000': 'The server has no database of this name.',
  };
  const timedOut = /timeout/i.test(message ?? '');
  return new ApiError(
    'connection-failed',
    words[timedOut ? 'ETIMEDOUT' : (code ?? '')] ?? `The server could not be used: ${message ?? 'it gave no reason'}.`,
  );
}
