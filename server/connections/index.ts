export { AnswerTooLarge, type AnswerLimit } from './answer-limit.ts';
export { Connections, openReadOnly } from './connections.ts';
export { AS_TEXT, Inquiry, parameterValues, runWritten, withoutEnd, type QueryColumn } from './inquiry.ts';
export { installationPassphrase, SecretBox } from './secrets.ts';
