export type { LegendWording, MarkKind, NewMark } from './kind.ts';
export { MARK_KINDS, markKindOf, sparklineFields } from './kinds.ts';
export { readyRules, type ReadyRule } from './ready-rules.ts';
export { ruleFault, ruleMeasure, withMarkMeasures } from './mark-measures.ts';
export { indicatorWords, stateMeasure } from './indicator-words.ts';
