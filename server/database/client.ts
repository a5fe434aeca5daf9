import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import * as schema from './schema.ts';

export type Database = NodePgDatabase<typeof schema>;

// What the rest of the server calls the driver's own: nothing but this folder and the driver's of `server/drivers` names its package.
export { escapeLiteral } from 'pg';
export type Client = pg.Client;
export type PoolClient = pg.PoolClient;
export type Pool = pg.Pool;
export type ClientConfig = pg.ClientConfig;
/** A client, whether it is of a pool or not. */
export type AnyClient = pg.ClientBase;

/** The role that registered tables are read as. It may read the schema `imported` and nothing else. */
export const READER_ROLE = 'bold_compass_reader';

/** Who reads registered tables: the role above, a login that an administrator made, or the application itself. */
export type Reader = { kind: 'role' } | { kind: 'login'; url: string } | { kind: 'none' };

export interface Connection {
  url: string;
  /** For the application's own tables, and for making and dropping registered ones. */
  pool: pg.Pool;
  db: Database;
  reader: Reader;
  /** Connects as the reader: nothing but registered tables can be read, and nothing written. */
  readerConfig: pg.ClientConfig;
  /** For short questions about records that requests wait for. */
  records: pg.Pool;
  /** For checks of definitions, which may take long: apart, so that nobody else waits behind them. */
  checks: pg.Pool;
}

const CONNECT_MILLISECONDS = 3_000;
const CHECK_MILLISECONDS = 120_000;

type OnError = (error: Error) => void;
const ignore: OnError = () => undefined;

/** A pool that outlives its connections: whether idle or in use, one that breaks off is only told, never thrown. */
function openPool(config: pg.PoolConfig, onError: OnError): pg.Pool {
  const pool = new pg.Pool({ idleTimeoutMillis: 30_000, ...config });
  pool.on('error', onError);
  // A client that is in use when its connection breaks off emits the error itself: without a listener that ends the process.
  pool.on('connect', (client) => client.on('error', onError));
  return pool;
}

function configOfReader(url: string, reader: Reader): pg.ClientConfig {
  if (reader.kind === 'none') return { connectionString: url, options: '-c default_transaction_read_only=on' };
  if (reader.kind === 'login') return { connectionString: reader.url, options: '-c default_transaction_read_only=on' };
  return { connectionString: url, options: `-c role=${READER_ROLE} -c default_transaction_read_only=on` };
}

/** Opens the pools. An idle connection that the server closes is no error: the next one is opened anew. */
export function connect(url: string, onError: OnError = ignore, reader: Reader = { kind: 'role' }): Connection {
  const waits = { connectionTimeoutMillis: CONNECT_MILLISECONDS };
  const readerConfig = configOfReader(url, reader);
  const pool = openPool({ connectionString: url, max: 8, ...waits }, onError);
  return {
    ...{ url, pool, db: drizzle(pool, { schema }), reader, readerConfig },
    records: openPool({ ...readerConfig, max: 4, ...waits }, onError),
    checks: openPool(
      { ...readerConfig, max: 3, connectionTimeoutMillis: CHECK_MILLISECONDS, statement_timeout: CHECK_MILLISECONDS },
      onError,
    ),
  };
}

/** Closes every pool. */
export async function disconnect({ pool, records, checks }: Connection): Promise<void> {
  await Promise.all([pool.end(), records.end(), checks.end()]);
}

/** A client of its own, connected. `onBroken` hears when its connection breaks off; questions that wait then fail too. */
export async function openClient(config: pg.ClientConfig, onBroken: OnError = ignore): Promise<pg.Client> {
  const client = new pg.Client({ connectionTimeoutMillis: 5_000, ...config });
  client.on('error', onBroken);
  await client.connect();
  return client;
}

/** Runs something with a client of a pool. One whose connection may be broken is not given back. */
export async function withClient<Result>(pool: pg.Pool, use: (client: pg.PoolClient) => Promise<Result>): Promise<Result> {
  const client = await pool.connect();
  let failure: Error | undefined;
  const broken = (error: Error): void => void (failure = error);
  client.on('error', broken);
  try {
    return await use(client);
  } finally {
    client.off('error', broken);
    client.release(failure);
  }
}

/** Runs something in a transaction: all of it holds, or nothing. */
export function inTransaction<Result>(pool: pg.Pool, use: (client: pg.PoolClient) => Promise<Result>): Promise<Result> {
  return withClient(pool, async (client) => {
    await client.query('BEGIN');
    try {
      const result = await use(client);
      await client.query('COMMIT');
      return result;
    } catch (error) {
      await client.query('ROLLBACK').catch(() => undefined);
      throw error;
    }
  });
}
