export { doubledKeys, TableStore, type DoubledKeys } from './table-store.ts';
export { settlePrecision, type FetchedColumn, type SettledColumn } from './precision.ts';
