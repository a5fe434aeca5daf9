export { accessFilter, bothRules, memberFilter, ruledFields, type AccessRule } from './access.ts';
