export { SourceRegistry, uses, type SourceRow } from './registry.ts';
