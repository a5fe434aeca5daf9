export { Pictures, type Picture } from './pictures.ts';
