export { AxisTree, type AxisNode } from './axis.ts';
export { planCrosstab, reasonNotKnown, type CrosstabPlan, type Depths, type FactPart } from './plan.ts';
export { Cube, CrosstabTooLargeError } from './cube.ts';
export {
  depthNeeded,
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
