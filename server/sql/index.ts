export { identifier, qualified } from './quote.ts';
export { compileQuery, runQueryInDatabase, type Statement } from './runner.ts';
