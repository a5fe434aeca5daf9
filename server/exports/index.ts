export { EXPORT_JOB, Exports, exportsOf } from './exports.ts';
