export * from './contracts.ts';
export * from './data-contracts.ts';
export * from './dataset-contracts.ts';
