export * from './numbers.ts';
export * from './words.ts';
