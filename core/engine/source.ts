import { periodsOfDays } from '../calendar/index.ts';
import { factKnows, fieldPlace, linkTo, type Dataset, type Fact, type Period } from '../model/index.ts';
import { codedColumn, derivedOfStore, rollupName, type Coded, type Column, type FactTable, type Store, type Table } from './columns.ts';
import { QueryError } from './query.ts';

/** A field seen from the records of a fact. */
type FieldSource =
  /** A column of the fact itself. */
  | { kind: 'own'; column: Column }
  /** A column of a table that each record refers to; entry 0 of a reference is "none". */
  | { kind: 'linked'; link: string; reference: Int32Array; table: Table; column: Column }
  /** A period of the day that each record refers to. */
  | { kind: 'period'; link: string; reference: Int32Array; coded: Coded };

/** The periods of all days of the calendar, coded in the order of time. */
function calendarPeriods(store: Store, period: Period, yearStart: number | undefined): Coded {
  return derivedOfStore(store, `periods ${period} ${yearStart}`, () => {
    const { codes, keys } = periodsOfDays(period, store.calendar.first, store.calendar.days, yearStart);
    return { codes, members: keys };
  });
}

/** The columns of a fact. Throws QueryError when the store does not hold it. */
export function factTable(store: Store, fact: Fact): FactTable {
  const table = store.facts[fact.name];
  if (!table) throw new QueryError('not-loaded', fact.label, `${fact.label} has not been loaded.`);
  return table;
}

/** Finds where a fact's records get a field from. Throws QueryError where the fact does not know it. */
export function fieldSource(dataset: Dataset, store: Store, fact: Fact, name: string): FieldSource {
  if (!factKnows(dataset, fact, name)) {
    throw new QueryError('field-not-known', name, `${fact.label} have no "${name}".`);
  }
  const table = factTable(store, fact);
  const place = fieldPlace(dataset, name);
  if (place.kind === 'fact') return { kind: 'own', column: table.columns[place.name] };
  const link = linkTo(fact, place.dimension)!;
  const reference = table.links[place.dimension.name];
  if (place.kind === 'period') {
    return {
      kind: 'period',
      link: place.dimension.name,
      reference,
      coded: calendarPeriods(store, place.level.period, place.dimension.yearStart),
    };
  }
  const linked = link.level ? store.rollups[rollupName(place.dimension.name, link.level)] : store.dimensions[place.dimension.name];
  return { kind: 'linked', link: place.dimension.name, reference, table: linked, column: linked.columns[place.name] };
}

/** A field as a lookup from what each record refers to, to member codes. */
export interface Lookup {
  /** Lookups with the same id share their reference. */
  id: string;
  reference: Int32Array;
  /** Member code per entry; entry 0 is "none" and has code 0. */
  codes: Int32Array;
  members: string[];
}

const shifted = new WeakMap<Int32Array, Int32Array>();

/** Codes of rows as codes of reference entries, where entry r + 1 is row r. */
function entryCodes(codes: Int32Array): Int32Array {
  let entries = shifted.get(codes);
  if (!entries) {
    entries = new Int32Array(codes.length + 1);
    entries.set(codes, 1);
    shifted.set(codes, entries);
  }
  return entries;
}

/** A field as a lookup for grouping and for conditions on members. */
export function fieldLookup(dataset: Dataset, store: Store, fact: Fact, name: string): Lookup {
  const source = fieldSource(dataset, store, fact, name);
  if (source.kind === 'own') {
    const { codes, members } = codedColumn(source.column);
    return {
      id: `field ${name.toLowerCase()}`,
      reference: codes,
      codes: Int32Array.from({ length: members.length + 1 }, (_, code) => code),
      members,
    };
  }
  const coded = source.kind === 'period' ? source.coded : codedColumn(source.column);
  return { id: source.link, reference: source.reference, codes: entryCodes(coded.codes), members: coded.members };
}
