export { accessFilter, memberFilter, ruledFields, type AccessRule } from './access.ts';
