import type { Dataset, Fact } from '../model/index.ts';
import type { Store } from './columns.ts';
import { asFloat, compileExpression, type BlockEvaluator, type CompiledExpression } from './expression.ts';
import type { RecordExpression } from './query.ts';
import { fieldLookup, fieldSource } from './source.ts';

/** What an aggregate reads: numbers, days, or member codes of texts. */
export interface Operand {
  type: 'number' | 'date' | 'text';
  compiled: CompiledExpression;
  /** For texts: code c stands for `members[c - 1]`. */
  members: string[];
}

function gatherCodes(reference: Int32Array, codes: Int32Array): BlockEvaluator {
  return (rows, count, out) => {
    for (let k = 0; k < count; k++) {
      const code = codes[reference[rows[k]]];
      out[k] = code === 0 ? Number.NaN : code;
    }
  };
}

/**
 * Compiles what an aggregate reads. A field alone may hold texts or dates; anything calculated holds numbers, and so
 * must whatever `arithmetic` aggregates (sum, avg) read. Throws QueryError otherwise.
 */
export function compileOperand(dataset: Dataset, store: Store, fact: Fact, expression: RecordExpression, arithmetic: boolean): Operand {
  if (expression.kind === 'field' && !arithmetic) {
    const source = fieldSource(dataset, store, fact, expression.name);
    if (source.kind === 'period' || source.column.kind === 'text') {
      const lookup = fieldLookup(dataset, store, fact, expression.name);
      const compiled: CompiledExpression = {
        scale: 0,
        mayMiss: true,
        bound: lookup.members.length,
        evaluate: gatherCodes(lookup.reference, lookup.codes),
      };
      return { type: 'text', compiled, members: lookup.members };
    }
    if (source.column.type === 'date') {
      return { type: 'date', compiled: compileExpression(dataset, store, fact, expression), members: [] };
    }
  }
  const compiled = compileExpression(dataset, store, fact, expression);
  const safe = compiled.bound <= Number.MAX_SAFE_INTEGER;
  return { type: 'number', compiled: safe ? compiled : asFloat(compiled), members: [] };
}
