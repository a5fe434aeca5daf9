export { Catalogue, type DatasetHead, type LoadedDataset } from './catalogue.ts';
export { createDeskMemory, Desk, type DeskMemory } from './desk.ts';
export { Engine } from './engine.ts';
export type { FindLiveSource, LiveSource } from './live.ts';
export { loadStore } from './loader.ts';
export { readSnapshot, snapshotFile, writeSnapshot } from './snapshot.ts';
