export { SourceRegistry, tablesOf, uses, type SourceRow } from './registry.ts';
