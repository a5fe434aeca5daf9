export { Assets } from './assets.ts';
