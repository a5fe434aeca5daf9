export { Catalogue, type LoadedDataset } from './catalogue.ts';
export { createAnswerCache, Desk, type AnswerCache } from './desk.ts';
export { Engine } from './engine.ts';
export { loadStore } from './loader.ts';
