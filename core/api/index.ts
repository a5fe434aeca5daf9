export * from './contracts.ts';
export * from './data-contracts.ts';
export * from './dataset-contracts.ts';
export * from './signal-contracts.ts';
export * from './tile-contracts.ts';
