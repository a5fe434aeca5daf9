export { SourceRegistry, tablesOf, type SourceRow } from './registry.ts';
