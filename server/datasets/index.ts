export { AccessEditor } from './access-editor.ts';
export { DatasetEditor } from './editor.ts';
export { allMeasures } from './measures.ts';
export { WholeSight } from './whole-sight.ts';
