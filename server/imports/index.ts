export { Imports } from './imports.ts';
