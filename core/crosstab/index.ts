export { AxisTree, nodesOfGroups, type AxisNode } from './axis.ts';
export { planCrosstab, reasonBelow, reasonNotKnown, type CrosstabPlan, type Depths, type FactPart } from './plan.ts';
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
} from './view.ts';
export { daysFilter, runsOf, shiftRanges, splitDates } from './shift.ts';
export {
  OTHERS,
  pathCondition,
  pickMembers,
  planOthers,
  TooManyPicksError,
  type OthersAnswer,
  type OthersQuestion,
  type Picked,
} from './picks.ts';
export { AGGREGATION_WORDS, canAggregateOtherwise, withAggregations } from './aggregations.ts';
export { conditionsPlan, membersThatHold } from './conditions.ts';
