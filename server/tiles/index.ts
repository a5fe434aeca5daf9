export { Tiles } from './tile-server.ts';
