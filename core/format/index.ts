export * from './numbers.ts';
export * from './words.ts';
export * from './conditions.ts';
export { naturalOrderOf, orderKey } from './natural-order.ts';
export { LOCALE } from './locale.ts';
