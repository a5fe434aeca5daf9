import type { Completion, CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { FUNCTION_HELP, printName } from '@bold-compass/core/formula';
import { factNamed, type Dataset } from '@bold-compass/core/model';

const WORDS = [
  'where',
  'per',
  'at',
  'back',
  'case',
  'when',
  'then',
  'else',
  'end',
  'and',
  'or',
  'not',
  'in',
  'between',
  'like',
  'is null',
  'parent',
  'row',
  'column',
  'total',
];
/** Forms that are no calls. */
const FORMS = new Set(['at', 'back', 'per', 'case']);

/** Everything that a formula over a dataset can be written of: measures first, then fields, functions and words. */
export function completions(dataset: Dataset): Completion[] {
  const named = (name: string, label: string, detail: string, boost: number): Completion => ({
    ...{ label: printName(name), detail: `${label} · ${detail}`, boost },
  });
  return [
    ...dataset.measures.map(({ name, label, fact, formula }) => ({
      ...named(name, label, fact ? `measure · ${factNamed(dataset, fact).label.toLowerCase()}` : 'measure', 3),
      info: formula,
    })),
    ...dataset.facts.flatMap((fact) => fact.fields.map(({ name, label }) => named(name, label, `field · ${fact.label.toLowerCase()}`, 2))),
    ...dataset.dimensions.flatMap((dimension) => [
      ...dimension.levels.map(({ name, label }) => named(name, label, `level · ${dimension.label.toLowerCase()}`, 2)),
      ...(dimension.kind === 'table'
        ? dimension.attributes.map(({ name, label }) => named(name, label, `field · ${dimension.label.toLowerCase()}`, 1))
        : []),
    ]),
    ...FUNCTION_HELP.filter(({ name }) => !FORMS.has(name)).map(({ name, signature, about }) => ({
      ...{ label: name, detail: signature, info: about, apply: `${name}(`, boost: 0 },
    })),
    ...WORDS.map((label) => ({ label, boost: -1 })),
  ];
}

/** Offers what fits the word before the cursor, by name or by label. */
export const completeFormula =
  (dataset: () => Dataset) =>
  (context: CompletionContext): CompletionResult | null => {
    const word = context.matchBefore(/"?[\w\u00a1-\uffff]*/);
    if (!word || (word.from === word.to && !context.explicit)) return null;
    return { from: word.from, options: completions(dataset()), validFor: /^"?[\w\u00a1-\uffff]*$/ };
  };
