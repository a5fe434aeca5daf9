export * as tables from './schema.ts';
export { connect, migrateDatabase, type Connection, type Database } from './client.ts';
export { isUnreachable, sqlState } from './failures.ts';
