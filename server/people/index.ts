export { hashPassword } from './passwords.ts';
export { maySee, seesAll, type Ownership } from './sight.ts';
export { SignInThrottle } from './sign-in-throttle.ts';
export { privateOf, Sessions, type Caller } from './sessions.ts';
