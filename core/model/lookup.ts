import {
  periodSchema,
  type CalendarDimension,
  type CalendarLevel,
  type Dataset,
  type Dimension,
  type Fact,
  type Field,
  type Level,
  type Link,
  type Measure,
  type Period,
  type TableDimension,
} from './dataset.ts';

/** Where a name leads: a level or attribute of a dimension, or a field of a fact. */
export type FieldPlace =
  | { kind: 'level'; dimension: TableDimension; level: Level; depth: number }
  | { kind: 'attribute'; dimension: TableDimension; field: Field }
  | { kind: 'period'; dimension: CalendarDimension; level: CalendarLevel; depth: number }
  | { kind: 'fact'; fact: Fact; field: Field };

/** A name that leads nowhere in its dataset. */
export class UnknownNameError extends Error {
  constructor(
    readonly missing: string,
    readonly what: 'field' | 'measure' | 'fact' | 'dimension',
    readonly dataset: string,
  ) {
    super(`There is no ${what} called "${missing}" in ${dataset}.`);
    this.name = 'UnknownNameError';
  }
}

const places = new WeakMap<Dataset, Map<string, FieldPlace>>();

function placesOf(dataset: Dataset): Map<string, FieldPlace> {
  const known = places.get(dataset);
  if (known) return known;
  const found = new Map<string, FieldPlace>();
  for (const dimension of dataset.dimensions) {
    if (dimension.kind === 'calendar') {
      dimension.levels.forEach((level, depth) => found.set(level.name.toLowerCase(), { kind: 'period', dimension, level, depth }));
    } else {
      dimension.levels.forEach((level, depth) => found.set(level.name.toLowerCase(), { kind: 'level', dimension, level, depth }));
      dimension.attributes.forEach((field) => found.set(field.name.toLowerCase(), { kind: 'attribute', dimension, field }));
    }
  }
  for (const fact of dataset.facts) {
    for (const field of fact.fields) found.set(field.name.toLowerCase(), { kind: 'fact', fact, field });
  }
  places.set(dataset, found);
  return found;
}

/** Finds a field by its formula name, ignoring case; undefined when there is none. */
export function findField(dataset: Dataset, name: string): FieldPlace | undefined {
  return placesOf(dataset).get(name.toLowerCase());
}

/** Finds a field by its formula name. Throws UnknownNameError. */
export function fieldPlace(dataset: Dataset, name: string): FieldPlace {
  const place = findField(dataset, name);
  if (!place) throw new UnknownNameError(name, 'field', dataset.label);
  return place;
}

export function factNamed(dataset: Dataset, name: string): Fact {
  const fact = dataset.facts.find((one) => one.name === name);
  if (!fact) throw new UnknownNameError(name, 'fact', dataset.label);
  return fact;
}

export function findMeasure(dataset: Dataset, name: string): Measure | undefined {
  return dataset.measures.find((one) => one.name.toLowerCase() === name.toLowerCase());
}

export function measureNamed(dataset: Dataset, name: string): Measure {
  const measure = findMeasure(dataset, name);
  if (!measure) throw new UnknownNameError(name, 'measure', dataset.label);
  return measure;
}

/** The words for a field. */
export function fieldLabel(dataset: Dataset, name: string): string {
  const place = fieldPlace(dataset, name);
  return place.kind === 'level' || place.kind === 'period' ? place.level.label : place.field.label;
}

/** The words for several members of a field: "countries". */
export function fieldPlural(dataset: Dataset, name: string): string {
  const place = fieldPlace(dataset, name);
  return place.kind === 'level' || place.kind === 'period' ? place.level.plural : pluralOf(place.field.label.toLowerCase());
}

/** The usual English plural of a word or phrase, for fields that name none. */
function pluralOf(words: string): string {
  if (/[^aeiou]y$/.test(words)) return `${words.slice(0, -1)}ies`;
  return /(s|x|z|ch|sh)$/.test(words) ? `${words}es` : `${words}s`;
}

export function linkTo(fact: Fact, dimension: Dimension): Link | undefined {
  return fact.links.find((link) => link.dimension === dimension.name);
}

/** Periods that another period can be told from: a month tells its quarter, a week tells only its days' own. */
const TOLD_BY: Record<Period, readonly Period[]> = {
  year: ['year'],
  half_year: ['year', 'half_year'],
  quarter: ['year', 'half_year', 'quarter'],
  month: ['year', 'half_year', 'quarter', 'month', 'fiscal_year', 'fiscal_half_year', 'fiscal_quarter'],
  iso_week: ['iso_week'],
  weekday: ['weekday'],
  fiscal_year: ['fiscal_year'],
  fiscal_half_year: ['fiscal_year', 'fiscal_half_year'],
  fiscal_quarter: ['fiscal_year', 'fiscal_half_year', 'fiscal_quarter'],
  week_year: ['week_year'],
  week_quarter: ['week_year', 'week_quarter'],
  week_month: ['week_year', 'week_quarter', 'week_month'],
  week: ['week_year', 'week_quarter', 'week_month', 'week'],
  day: periodSchema.options,
};

/** Periods that members of a calendar stand under in a tree. */
const YEARS: readonly Period[] = ['year', 'fiscal_year', 'week_year'];

/**
 * The fields under which the members of a field stand in a tree, the coarsest first: the coarser levels of its hierarchy,
 * or the year of a period. None for a field that stands alone.
 */
export function fieldsAbove(dataset: Dataset, name: string): string[] {
  const place = fieldPlace(dataset, name);
  if (place.kind === 'level') return place.dimension.levels.slice(0, place.depth).map((level) => level.name);
  if (place.kind !== 'period' || YEARS.includes(place.level.period)) return [];
  const told = TOLD_BY[place.level.period];
  const year = place.dimension.levels.find(({ period }) => YEARS.includes(period) && told.includes(period));
  return year ? [year.name] : [];
}

/**
 * Whether the records of a fact have one value for the field: it is the fact's own, or a level of a linked
 * dimension at or above the level the fact is kept at.
 */
export function factKnows(dataset: Dataset, fact: Fact, name: string): boolean {
  const place = fieldPlace(dataset, name);
  if (place.kind === 'fact') return place.fact.name === fact.name;
  const link = linkTo(fact, place.dimension);
  if (!link) return false;
  if (!link.level) return true;
  if (place.kind === 'attribute') return false;
  const kept = place.dimension.levels.findIndex((level) => level.name === link.level);
  if (place.kind === 'period') {
    const period = place.dimension.levels[kept].period;
    return TOLD_BY[period].includes(place.level.period);
  }
  return place.depth <= kept;
}
