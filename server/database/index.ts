export * as tables from './schema.ts';
export {
  connect,
  disconnect,
  escapeLiteral,
  inTransaction,
  openClient,
  withClient,
  type AnyClient,
  type Client,
  type ClientConfig,
  type Connection,
  type Database,
  type Pool,
  type PoolClient,
  type Reader,
} from './client.ts';
export { isDiskFull, isUnreachable, sqlState } from './failures.ts';
export { migrateDatabase, readerName, SetupRefused } from './setup.ts';
