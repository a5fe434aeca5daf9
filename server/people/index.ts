export { hashPassword } from './passwords.ts';
export { maySee, seesAll, type Ownership } from './sight.ts';
export { privateOf, Sessions, type Caller } from './sessions.ts';
