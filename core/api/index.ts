export * from './contracts.ts';
