export { Connections } from './connections.ts';
export { SourceQuery, parameterValues, withoutEnd } from './source-query.ts';
export { installationPassphrase, SecretBox } from './secrets.ts';
