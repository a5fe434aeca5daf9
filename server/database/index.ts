export * as tables from './schema.ts';
export { connect, disconnect, inTransaction, openClient, withClient, type Connection, type Database, type Reader } from './client.ts';
export { isUnreachable, sqlState } from './failures.ts';
export { migrateDatabase, readerName, SetupRefused } from './setup.ts';
