export * from './state.ts';
