export * from './query.ts';
export * from './columns.ts';
export * from './builder.ts';
export { canSplit, countShared, planQuery, runPlan, runQuery, runSplitQuery } from './run.ts';
export { isTableWorth } from './kernels.ts';
export type { Counted, RecordRange } from './count.ts';
export { listRecords, type RecordPage, type RecordQuery, type RecordValue } from './records.ts';
export { memberLabels, memberPlaces } from './labels.ts';
export { axisMembers } from './members.ts';
export { compareText, likeTest } from './text.ts';
export { isFramed } from './frame.ts';
export { aggregateOfValues, aggregates, mergeOf } from './aggregates.ts';
export {
  LONGEST_TEXT,
  scalarNamed,
  SCALARS,
  type Scalar,
  type RecordScalarName,
  type ScalarName,
  type ScalarType,
  type ScalarValue,
} from './scalars.ts';
export { typeOfExpression } from './expression-type.ts';
export { aggregateOfCounts, type CountedValue } from './weighted.ts';
