export { AnswerTooLarge, type AnswerLimit } from './answer-limit.ts';
export { Connections, openReadOnly } from './connections.ts';
export { AS_TEXT, SourceQuery, parameterValues, runWritten, withoutEnd, type QueryColumn } from './source-query.ts';
export { installationPassphrase, SecretBox } from './secrets.ts';
