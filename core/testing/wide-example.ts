import { datasetSchema, type Dataset, type Filter } from '../model/index.ts';
import { columnFrom, type AggregateCall, type Query, type Store } from '../engine/index.ts';

/** A fact with 40 fields of its own, each of which is a part of the group number when it is a level or a condition. */
export const WIDE_FIELDS: readonly string[] = Array.from({ length: 40 }, (_, index) => `field_${index}`);
export const WIDE_LETTERS: readonly string[] = ['a', 'b', 'c'];
/** Records are told apart by numbers below this. */
export const WIDE_RECORDS = 3 ** 12;

export const wideDataset: Dataset = datasetSchema.parse({
  schemaVersion: 1,
  name: 'wide',
  label: 'Wide',
  dimensions: [],
  facts: [
    {
      name: 'facts',
      label: 'Facts',
      record: { one: 'fact', many: 'facts' },
      table: 'facts',
      links: [],
      fields: [
        ...WIDE_FIELDS.map((name) => ({ name, label: name, column: name, type: 'text' })),
        { name: 'amount', label: 'Amount', column: 'amount', type: 'integer' },
      ],
    },
  ],
  measures: [],
});

/** The letters of a record are the digits of its number to base 3; fields repeat after twelve. */
export const wideLetter = (record: number, field: number): string => WIDE_LETTERS[Math.floor(record / 3 ** (field % 12)) % 3];
export const wideAmount = (record: number): number => record % 17;

export function wideStore(records: readonly number[]): Store {
  const letters = WIDE_FIELDS.map(
    (name, field) =>
      [
        name,
        columnFrom(
          'text',
          records.map((record) => wideLetter(record, field)),
        ),
      ] as const,
  );
  const columns = { ...Object.fromEntries(letters), amount: columnFrom('integer', records.map(wideAmount)) };
  return {
    version: 'wide@1',
    calendar: { first: 0, days: 1 },
    dimensions: {},
    rollups: {},
    facts: { facts: { rows: records.length, columns, links: {} } },
  };
}

export interface WideCondition {
  field: number;
  values: string[];
}

/** Asks for additive and other aggregates of all records that every condition holds for. */
export function wideQuery(conditions: readonly WideCondition[], levels: readonly number[]): Query {
  const amount = (fn: AggregateCall['fn']): AggregateCall => ({ fn, argument: { kind: 'field', name: 'amount' }, where: null });
  return {
    fact: 'facts',
    filter: { op: 'and', items: conditions.map(({ field, values }): Filter => ({ op: 'in', field: WIDE_FIELDS[field], values })) },
    levels: levels.map((level) => WIDE_FIELDS[level]),
    sets: [levels.map((_, index) => index)],
    aggregates: [amount('sum'), amount('count_distinct'), amount('median')],
  };
}
