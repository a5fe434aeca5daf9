export { Catalogue, type DatasetHead, type LoadedDataset } from './catalogue.ts';
export { ByteCache } from './byte-cache.ts';
export { createReaderMemory, DatasetReader, type ReaderMemory } from './dataset-reader.ts';
export { withoutHidden, type IsVisible } from './hidden-members.ts';
export { Engine } from './engine.ts';
export type { FindLiveSource, LiveSource } from './live.ts';
export { loadStore } from './loader.ts';
export { splitQuery } from './split-query.ts';
export { readSnapshot, snapshotFile, writeSnapshot } from './snapshot.ts';
