export { accessFilter, bothRules, covers, memberFilter, ruledFields, type AccessRule } from './access.ts';
