export { Assets, type Asset } from './assets.ts';
