export { AxisTree, nodesOfGroups, type AxisNode } from './axis.ts';
export {
  groupKey,
  isCombined,
  isExtra,
  lessOf,
  soundGroups,
  OTHERS,
  planCell,
  planCrosstab,
  reasonBelow,
  reasonNotKnown,
  type CellConditions,
  type CrosstabPlan,
  type Depths,
  type FactPart,
  type OthersAnswer,
  type OthersQuestion,
  type SelectedMembers,
} from './plan.ts';
export { Cube } from './cube.ts';
export type { CellReader } from './cell-reader.ts';
export { resolvePlan } from './resolve.ts';
export { takenApart, type PlanTakenApart } from './taken-apart.ts';
export { askQueries } from './ask-parts.ts';
export type { ShownOrder } from './evaluation.ts';
export type { DateSpan } from './date-frames.ts';
export {
  depthNeeded,
  shownCell,
  shownValue,
  summarise,
  parsePathKey,
  pathKey,
  visibleNodes,
  type AxisView,
  type MemberOrder,
  type OpenState,
  type VisibleNode,
  type VisibleRole,
} from './visible-lines.ts';
export { readPath, writtenPath } from './written-path.ts';
export { branchedMember, branchOf, branchPart, isBranched, isUnder, placedOnSide, plainPath } from './branches.ts';
export { combinedWords } from './combined-words.ts';
export { isOfCell } from './contexts.ts';
export { dayLevel, movingCalendar, splitDates } from './date-frames.ts';
export { pathCondition, planOthers, selectTopMembers, TooManyOthersError } from './top-members.ts';
export { aggregateOf, canAggregateOtherwise, EXCHANGEABLE, withAggregate, withAggregations } from './aggregations.ts';
export { cellInRow, measureInRow, measuresInRows } from './row-measures.ts';
export { conditionsPlan, membersThatHold } from './conditions.ts';
export { spanQuestion } from './date-span.ts';
export { axisPeriods, isZeroWithoutRecords, type AxisPeriod } from './axis-periods.ts';
