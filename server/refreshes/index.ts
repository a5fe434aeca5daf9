export { liveSources } from './live.ts';
export { Refresher } from './refresher.ts';
