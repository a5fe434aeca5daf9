export * from './format.ts';
export * from './filter.ts';
export * from './dataset.ts';
export * from './source.ts';
export * from './report.ts';
export * from './lookup.ts';
