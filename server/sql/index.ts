export { dateTimeText, identifier, qualified, tableOf } from './quote.ts';
export { compileQuery, listRecordsInDatabase, runQueryInDatabase, type Relation, type Statement } from './runner.ts';
