export * from './spread.ts';
export * from './state.ts';
export * from './target.ts';
export * from './words.ts';
