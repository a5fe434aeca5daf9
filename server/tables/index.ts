export { doubledKeys, TableStore } from './table-store.ts';
export { widenPrecision, type FetchedColumn, type WidenedColumn } from './precision.ts';
