export { JsonAnswer, jsonBytes } from './json-answer.ts';
export { answering, answeringBytes, Threads } from './threads.ts';
