import {
  periodSchema,
  type CalendarDimension,
  type CalendarLevel,
  type ColumnType,
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

/** What every field has, whatever it is of. */
interface FieldBasics {
  /** As the definition writes it; names are found whatever their case. */
  name: string;
  label: string;
  /** The words for several members: "countries". */
  plural: string;
  /** Of the values; periods are texts, as their keys are. */
  type: ColumnType;
  /** Digits after the point, for decimals. */
  scale: number;
  /** The dimension it belongs to; null for a fact's own. */
  dimension: Dimension | null;
}

/** Where a name leads: a level or attribute of a dimension, a period of a calendar, or a field of a fact. */
export type FieldPlace = FieldBasics &
  (
    | { kind: 'level'; dimension: TableDimension; level: Level; depth: number }
    | { kind: 'attribute'; dimension: TableDimension; field: Field }
    | { kind: 'period'; dimension: CalendarDimension; level: CalendarLevel; depth: number }
    | { kind: 'fact'; dimension: null; fact: Fact; field: Field }
  );

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

/** A dataset's definition by name. Names of fields and measures are kept in small letters. */
interface ResolvedDataset {
  fields: Map<string, FieldPlace>;
  measures: Map<string, Measure>;
  facts: Map<string, Fact>;
  /** What else is calculated of the definition once, by what it is. */
  derived: Map<string, unknown>;
}

const resolved = new WeakMap<Dataset, ResolvedDataset>();

/** The definition by name, resolved once for each definition. */
function resolve(dataset: Dataset): ResolvedDataset {
  let own = resolved.get(dataset);
  if (!own) {
    own = {
      fields: fieldsByName(dataset),
      measures: new Map(dataset.measures.map((measure) => [measure.name.toLowerCase(), measure])),
      facts: new Map(dataset.facts.map((fact) => [fact.name, fact])),
      derived: new Map(),
    };
    resolved.set(dataset, own);
  }
  return own;
}

/** Something that follows from the definition alone, such as the plan of a measure: calculated once for each definition. */
export function derivedOf<Value>(dataset: Dataset, key: string, work: () => Value): Value {
  const { derived } = resolve(dataset);
  if (!derived.has(key)) derived.set(key, work());
  return derived.get(key) as Value;
}

function fieldsByName(dataset: Dataset): Map<string, FieldPlace> {
  const found = new Map<string, FieldPlace>();
  const add = (place: FieldPlace): void => void found.set(place.name.toLowerCase(), place);
  const plain = ({ name, label, type, scale }: Field): Omit<FieldBasics, 'dimension'> => ({
    ...{ name, label, type, scale },
    plural: pluralOf(label.toLowerCase()),
  });
  for (const dimension of dataset.dimensions) {
    if (dimension.kind === 'calendar') {
      dimension.levels.forEach((level, depth) => add({ ...level, kind: 'period', type: 'text', scale: 0, dimension, level, depth }));
    } else {
      dimension.levels.forEach((level, depth) => add({ ...plain(level), plural: level.plural, kind: 'level', dimension, level, depth }));
      dimension.attributes.forEach((field) => add({ ...plain(field), kind: 'attribute', dimension, field }));
    }
  }
  for (const fact of dataset.facts) for (const field of fact.fields) add({ ...plain(field), kind: 'fact', dimension: null, fact, field });
  return found;
}

/** Finds a field by its formula name, ignoring case; undefined when there is none. */
export function findField(dataset: Dataset, name: string): FieldPlace | undefined {
  return resolve(dataset).fields.get(name.toLowerCase());
}

/** Finds a field by its formula name. Throws UnknownNameError. */
export function fieldPlace(dataset: Dataset, name: string): FieldPlace {
  const place = findField(dataset, name);
  if (!place) throw new UnknownNameError(name, 'field', dataset.label);
  return place;
}

/** The calendars of a dataset. */
export const calendarsOf = (dataset: Dataset): CalendarDimension[] =>
  dataset.dimensions.filter((dimension): dimension is CalendarDimension => dimension.kind === 'calendar');

/** Whether two fields are of the same dimension: fields of facts are of none. */
export const isSameDimension = (a: FieldPlace, b: FieldPlace): boolean =>
  a.dimension !== null && b.dimension !== null && a.dimension.name === b.dimension.name;

export function factNamed(dataset: Dataset, name: string): Fact {
  const fact = resolve(dataset).facts.get(name);
  if (!fact) throw new UnknownNameError(name, 'fact', dataset.label);
  return fact;
}

export function findMeasure(dataset: Dataset, name: string): Measure | undefined {
  return resolve(dataset).measures.get(name.toLowerCase());
}

export function measureNamed(dataset: Dataset, name: string): Measure {
  const measure = findMeasure(dataset, name);
  if (!measure) throw new UnknownNameError(name, 'measure', dataset.label);
  return measure;
}

/** A name in words, for what is not there any more: its label went with it. */
export const nameInWords = (name: string): string => {
  const words = name.replaceAll('_', ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
};

/** The words for a field. */
export const fieldLabel = (dataset: Dataset, name: string): string => findField(dataset, name)?.label ?? nameInWords(name);

/** The words for several members of a field: "countries". */
export const fieldPlural = (dataset: Dataset, name: string): string =>
  findField(dataset, name)?.plural ?? pluralOf(nameInWords(name).toLowerCase());

/** The usual English plural of a word or phrase, for fields that name none. */
function pluralOf(words: string): string {
  if (/[^aeiou]y$/.test(words)) return `${words.slice(0, -1)}ies`;
  return /(s|x|z|ch|sh)$/.test(words) ? `${words}es` : `${words}s`;
}

export function linkTo(fact: Fact, dimension: Dimension): Link | undefined {
  return fact.links.find((link) => link.dimension === dimension.name);
}

/** The periods that follow from each period: a month gives its quarter, a week only itself. */
const KNOWN_FROM: Record<Period, readonly Period[]> = {
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

/** Whether a field is below a level in its hierarchy: each of its members has one member of the level. */
export function isBelow(dataset: Dataset, name: string, level: string): boolean {
  const [place, above] = [fieldPlace(dataset, name), fieldPlace(dataset, level)];
  if (!isSameDimension(place, above) || place.name === above.name) return false;
  if (place.kind === 'period') return above.kind === 'period' && KNOWN_FROM[place.level.period].includes(above.level.period);
  return above.kind === 'level' && (place.kind === 'attribute' || (place.kind === 'level' && place.depth > above.depth));
}

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
  const coarser = KNOWN_FROM[place.level.period];
  const year = place.dimension.levels.find(({ period }) => YEARS.includes(period) && coarser.includes(period));
  return year ? [year.name] : [];
}

/** Whether members of one field are made up of those of another: a coarser level of its hierarchy, or a longer period that holds its own whole. */
function isCoarser(dataset: Dataset, field: string, than: string): boolean {
  const [own, other] = [findField(dataset, field), findField(dataset, than)];
  // A field that is gone stands where it stood.
  if (!own || !other) return false;
  if (own.dimension?.name !== other.dimension?.name) return false;
  if (own.kind === 'level' && other.kind === 'level') return own.depth < other.depth;
  if (own.kind !== 'period' || other.kind !== 'period' || own.level.period === other.level.period) return false;
  return KNOWN_FROM[other.level.period].includes(own.level.period);
}

/**
 * Fields with the levels of each hierarchy from the coarsest to the finest, in the places that they have together. A level above
 * one that it is in would show each member on its own with all of its parent's figures again.
 */
export function inLevelOrder(dataset: Dataset, fields: readonly string[]): string[] {
  const ordered = [...fields];
  for (let end = ordered.length - 1; end > 0; end--)
    for (let at = 0; at < end; at++)
      for (let other = at + 1; other <= end; other++)
        if (isCoarser(dataset, ordered[other], ordered[at])) [ordered[at], ordered[other]] = [ordered[other], ordered[at]];
  return ordered;
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
    return KNOWN_FROM[period].includes(place.level.period);
  }
  return place.depth <= kept;
}
