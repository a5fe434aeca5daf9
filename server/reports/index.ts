export { canCompose, datasetsIn, Library, staleReport, validReport, type StoredReport } from './library.ts';
export { DatasetSight } from './dataset-sight.ts';
export { SavedViews } from './saved-views.ts';
export { Thumbnails } from './thumbnails.ts';
export { fillingOf, type FillValues } from './filling.ts';
export { ReportReader } from './report-reader.ts';
export { checkAsked } from './scope.ts';
export { visibleDocument } from './visible.ts';
export { audienceOf } from './audience.ts';
