export { Instance } from './instance.ts';
