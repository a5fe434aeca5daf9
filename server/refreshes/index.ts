export { Refresher } from './refresher.ts';
