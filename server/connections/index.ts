export { Connections, openReadOnly } from './connections.ts';
export { AS_TEXT, asSubquery, Inquiry, parameterValues, runWritten, withoutEnd, type QueryColumn } from './inquiry.ts';
export { installationPassphrase, SecretBox } from './secrets.ts';
