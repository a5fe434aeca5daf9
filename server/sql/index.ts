export { dateTimeText } from './condition.ts';
export { finiteDate } from './finite-date.ts';
export { identifier, IMPORTED, qualified, registered, STAGING, staged, tableOf } from './quote.ts';
export { compileQuery, listRecordsInDatabase, runQueryInDatabase, type Queryable, type Relation, type Statement } from './runner.ts';
