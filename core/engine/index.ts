export * from './query.ts';
export * from './columns.ts';
export * from './builder.ts';
export { canSplit, countShared, planQuery, runPlan, runQuery, runSplitQuery } from './run.ts';
export type { Counted, RecordRange } from './count.ts';
export { listRecords, type RecordPage, type RecordQuery, type RecordValue } from './records.ts';
export { memberLabels, memberPlaces } from './labels.ts';
export { axisMembers } from './members.ts';
export { compareText } from './text.ts';
