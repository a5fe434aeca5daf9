export { AxisTree, nodesOfGroups, type AxisNode } from './axis.ts';
export {
  OTHERS,
  planCrosstab,
  reasonBelow,
  reasonNotKnown,
  type CrosstabPlan,
  type Depths,
  type FactPart,
  type OthersAnswer,
  type OthersQuestion,
  type SelectedMembers,
} from './plan.ts';
export { Cube } from './cube.ts';
export {
  depthNeeded,
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
export { daysFilter, runsOf, shiftRanges, splitDates } from './date-shift.ts';
export { pathCondition, planOthers, selectTopMembers, TooManyOthersError } from './top-members.ts';
export { aggregateOf, canAggregateOtherwise, EXCHANGEABLE, withAggregate, withAggregations } from './aggregations.ts';
export { conditionsPlan, membersThatHold } from './conditions.ts';
