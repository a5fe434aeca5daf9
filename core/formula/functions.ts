import type { RecordExpression } from '../engine/index.ts';
import { conditionOf, type FormulaContext } from './conditions.ts';
import type { Syntax } from './syntax.ts';

/** A function of values of one record. What it is worked out by is the expression it becomes: both runners know these. */
export interface RecordFunction {
  /** What it takes, in words that follow its name. */
  takes: string;
  /** Whether this many arguments are what it takes. */
  fits(count: number): boolean;
  build(context: FormulaContext, args: readonly Syntax[], convert: (part: Syntax) => RecordExpression): RecordExpression;
}

/** Every function of values of one record, by its name. */
export const RECORD_FUNCTIONS: Record<string, RecordFunction> = {
  coalesce: {
    takes: 'one value or several, as in coalesce(discount, 0)',
    fits: (count) => count > 0,
    build: (_context, args, convert) => ({ kind: 'coalesce', items: args.map(convert) }),
  },
  if: {
    takes: 'a condition and two values, as in if(quantity > 1, quantity, 0)',
    fits: (count) => count === 3,
    build: (context, [when, then, otherwise], convert) => ({
      kind: 'choose',
      when: conditionOf(context, when),
      then: convert(then),
      otherwise: otherwise.kind === 'null' ? null : convert(otherwise),
    }),
  },
};
