import type { Dataset, Fact } from '../model/index.ts';
import { derivedOfStore, type Store } from './columns.ts';
import { asFloat, type BlockEvaluator, type CompiledExpression } from './compiled.ts';
import { typeOfExpression } from './expression-type.ts';
import { compileExpression, rowValue } from './expression.ts';
import type { RecordExpression } from './query.ts';
import { factTable, fieldLookup, fieldSource } from './source.ts';
import { compareText } from './text.ts';

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
  const type = typeOfExpression(dataset, expression);
  if (type === 'text' && expression.kind !== 'field' && !arithmetic) return textOperand(dataset, store, fact, expression);
  if (type === 'date' && expression.kind !== 'field' && !arithmetic) return dateOperand(dataset, store, fact, expression);
  const compiled = compileExpression(dataset, store, fact, expression);
  const safe = compiled.bound <= Number.MAX_SAFE_INTEGER;
  return { type: 'number', compiled: safe ? compiled : asFloat(compiled), members: [] };
}

/** Texts that are calculated for each record, coded in their order; remembered for the store. */
function textOperand(dataset: Dataset, store: Store, fact: Fact, expression: RecordExpression): Operand {
  const { codes, members } = derivedOfStore(store, `texts of ${fact.name} by ${JSON.stringify(expression)}`, () => {
    const value = rowValue(dataset, store, fact, expression);
    const texts = Array.from({ length: factTable(store, fact).rows }, (_, row) => value(row));
    const sorted = [...new Set(texts.filter((text) => typeof text === 'string'))].sort(compareText);
    const codeOf = new Map(sorted.map((text, index) => [text, index + 1]));
    return { codes: Float64Array.from(texts, (text) => (typeof text === 'string' ? codeOf.get(text)! : Number.NaN)), members: sorted };
  });
  const compiled: CompiledExpression = {
    ...{ scale: 0, mayMiss: true, bound: members.length },
    evaluate(rows, count, out) {
      for (let k = 0; k < count; k++) out[k] = codes[rows[k]];
    },
  };
  return { type: 'text', compiled, members };
}

function dateOperand(dataset: Dataset, store: Store, fact: Fact, expression: RecordExpression): Operand {
  const value = rowValue(dataset, store, fact, expression);
  const compiled: CompiledExpression = {
    ...{ scale: 0, mayMiss: true, bound: 2 ** 31 },
    evaluate(rows, count, out) {
      for (let k = 0; k < count; k++) {
        const day = value(rows[k]);
        out[k] = typeof day === 'number' ? day : Number.NaN;
      }
    },
  };
  return { type: 'date', compiled, members: [] };
}
