export * from './contracts.ts';
export * from './data-contracts.ts';
