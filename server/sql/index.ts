export { dateTimeText, identifier, qualified, tableOf } from './quote.ts';
export { compileQuery, runQueryInDatabase, type Statement } from './runner.ts';
