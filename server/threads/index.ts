export { answering, Threads } from './threads.ts';
