export * from './days.ts';
export * from './periods.ts';
export * from './labels.ts';
export * from './moves.ts';
