import { describeProblem, FormulaError, namesIn, planCalculatedField, planMeasure, printName } from '@bold-compass/core/formula';
import { isNumberType, type Dataset, type Field, type Measure } from '@bold-compass/core/model';

/** A field of a dataset's definition, with where it is kept there. */
export interface FieldEntry {
  field: Field;
  kind: 'fact' | 'level' | 'attribute';
  /** Name and label of its fact or dimension. */
  owner: string;
  ownerLabel: string;
}

/** All fields of facts and of dimensions in tables. */
export const fieldEntries = (dataset: Dataset): FieldEntry[] => [
  ...dataset.facts.flatMap(({ name: owner, label: ownerLabel, fields }) =>
    fields.map((field): FieldEntry => ({ field, kind: 'fact', owner, ownerLabel })),
  ),
  ...dataset.dimensions.flatMap((dimension) => {
    if (dimension.kind !== 'table') return [];
    const { name: owner, label: ownerLabel } = dimension;
    return [
      ...dimension.levels.map((field): FieldEntry => ({ field, kind: 'level', owner, ownerLabel })),
      ...dimension.attributes.map((field): FieldEntry => ({ field, kind: 'attribute', owner, ownerLabel })),
    ];
  }),
];

export const withMeasure = (dataset: Dataset, name: string, part: Partial<Measure>): Dataset => ({
  ...dataset,
  measures: dataset.measures.map((measure) => (measure.name === name ? { ...measure, ...part } : measure)),
});

export function withField(dataset: Dataset, { field: { name }, kind, owner }: FieldEntry, part: Partial<Field>): Dataset {
  const changed = <Own extends Field>(all: Own[]): Own[] => all.map((field) => (field.name === name ? { ...field, ...part } : field));
  return {
    ...dataset,
    facts: dataset.facts.map((fact) => (kind === 'fact' && fact.name === owner ? { ...fact, fields: changed(fact.fields) } : fact)),
    dimensions: dataset.dimensions.map((dimension) => {
      if (dimension.kind !== 'table' || dimension.name !== owner || kind === 'fact') return dimension;
      return kind === 'level'
        ? { ...dimension, levels: changed(dimension.levels) }
        : { ...dimension, attributes: changed(dimension.attributes) };
    }),
  };
}

/** A name that nothing has yet: the word alone, or with a number. */
function freeName(word: string, taken: ReadonlySet<string>): string {
  let name = word;
  for (let number = 2; taken.has(name); number++) name = `${word}_${number}`;
  return name;
}

/** A measure to begin with: a copy of another one, or a count of records. */
export function newMeasure(dataset: Dataset, like?: Measure): Measure {
  const taken = new Set(dataset.measures.map(({ name }) => name));
  if (like) return { ...like, name: freeName(like.name, taken), label: `${like.label}, copy` };
  return {
    ...{ name: freeName('new_measure', taken), label: 'New measure', formula: 'count()', fact: dataset.facts[0].name, direction: 'higher' },
    format: { kind: 'number', decimals: 0, unit: 'one' },
  };
}

export const isNumber = ({ type }: Field): boolean => isNumberType(type);

/** A field of one value per record, calculated from others of its fact. */
export function newCalculatedField(dataset: Dataset, owner: string): Field {
  const taken = new Set(dataset.facts.flatMap(({ fields }) => fields.map(({ name }) => name)));
  const name = freeName('calculated_field', taken);
  const first = dataset.facts.find((fact) => fact.name === owner)?.fields.find((field) => isNumber(field) && !field.formula);
  return {
    ...{ name, label: 'Calculated field', column: `calculated ${name}`, type: 'decimal', scale: 2 },
    formula: first ? printName(first.name) : '0',
  };
}

function faultOf(plan: () => unknown): string {
  try {
    plan();
    return '';
  } catch (error) {
    return error instanceof FormulaError ? describeProblem(error.problem) : (error as Error).message;
  }
}

/** What is wrong with a measure's formula; empty for a sound one. */
export const measureFault = (dataset: Dataset, { name }: Measure): string => faultOf(() => planMeasure(dataset, name));

/** What is wrong with a calculated field; empty for a sound one, and for any other. */
export function fieldFault(dataset: Dataset, { field, kind, owner }: FieldEntry): string {
  const fact = dataset.facts.find(({ name }) => name === owner);
  return kind === 'fact' && fact && field.formula ? faultOf(() => planCalculatedField(dataset, fact, field)) : '';
}

/** How many measures name a field or measure in their formulas. */
export function measuresNaming(dataset: Dataset, name: string): number {
  return dataset.measures.filter(({ formula }) => mentions(formula, name)).length;
}

function mentions(formula: string, name: string): boolean {
  try {
    return [...namesIn(formula)].some((other) => other.toLowerCase() === name.toLowerCase());
  } catch {
    return false;
  }
}

const FORMATS = { number: 'Number', currency: 'Currency', percent: 'Percent', duration: 'Duration' } as const;
/** A format in words: "Currency, thousands". */
export function formatWords({ kind, decimals, unit }: Measure['format']): string {
  const parts: string[] = [FORMATS[kind]];
  if (unit !== 'one' && (kind === 'number' || kind === 'currency')) parts.push(`${unit}s`);
  if (decimals > 0 && kind !== 'duration') parts.push(`${decimals} ${decimals === 1 ? 'decimal' : 'decimals'}`);
  return parts.join(', ');
}
