export { reportChanges } from './report-changes.ts';
