import { columnFrom, type Column, type Query, type QueryResult, type Reference, type Store, type Table } from '@bold-compass/core/engine';
import { datasetSchema, type Dataset } from '@bold-compass/core/model';

/** A generated star: places and months as dimensions of three levels each, three measures. */

export const PLACES = 400;
export const MONTHS = 48;
export const SIDE = ['region', 'country', 'city'] as const;
export const TOP = ['year', 'quarter', 'month'] as const;

export interface StarRows {
  place: Int32Array;
  month: Int32Array;
  /** In cents. */
  amount: Int32Array;
  quantity: Int32Array;
  cost: Int32Array;
}

const pad = (value: number): string => String(value).padStart(3, '0');
export const placeLevels = (place: number): string[] => [
  `region ${Math.floor(place / 50)}`,
  `country ${pad(Math.floor(place / 10))}`,
  `city ${pad(place)}`,
];
export const monthLevels = (month: number): string[] => {
  const year = 2023 + Math.floor(month / 12);
  return [String(year), `${year}-Q${Math.floor((month % 12) / 3) + 1}`, `${year}-${String((month % 12) + 1).padStart(2, '0')}`];
};

/** A column as the loader leaves it, over memory that threads share. */
function sharedColumn(length: number, valueAt: (row: number) => number): Int32Array {
  const values = new Int32Array(new SharedArrayBuffer(length * 4));
  for (let row = 0; row < length; row++) values[row] = valueAt(row);
  return values;
}

/** The same rows each time: a linear congruential generator with the constants of Numerical Recipes. */
export function starRows(count: number): StarRows {
  let state = 42;
  const next = (below: number): number => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 4_294_967_296) * below);
  };
  const column = (below: number): Int32Array => sharedColumn(count, () => next(below));
  return { place: column(PLACES), month: column(MONTHS), amount: column(500_000), quantity: column(9), cost: column(300_000) };
}

const level = (name: string): object => ({ name, label: name, plural: `${name}s`, column: name, type: 'text' });

export const starDataset: Dataset = datasetSchema.parse({
  schemaVersion: 1,
  name: 'star',
  label: 'Star',
  dimensions: [
    { kind: 'table', name: 'places', label: 'Places', table: 'bench_places', key: 'place_id', levels: SIDE.map(level) },
    { kind: 'table', name: 'months', label: 'Months', table: 'bench_months', key: 'month_id', levels: TOP.map(level) },
  ],
  facts: [
    {
      name: 'facts',
      label: 'Facts',
      record: { one: 'fact', many: 'facts' },
      table: 'bench_facts',
      links: [
        { dimension: 'places', column: 'place_id' },
        { dimension: 'months', column: 'month_id' },
      ],
      fields: [
        { name: 'amount', label: 'Amount', column: 'amount', type: 'decimal', scale: 2 },
        { name: 'quantity', label: 'Quantity', column: 'quantity', type: 'integer' },
        { name: 'cost', label: 'Cost', column: 'cost', type: 'decimal', scale: 2 },
      ],
    },
  ],
  measures: [],
});

const dimension = (rows: number, names: readonly string[], levels: (row: number) => string[]): Table => ({
  rows,
  columns: Object.fromEntries(
    names.map((name, index) => [
      name,
      columnFrom(
        'text',
        Array.from({ length: rows }, (_, row) => levels(row)[index]),
      ),
    ]),
  ),
});

export function starStore(rows: StarRows): Store {
  const number = (values: Int32Array, type: 'integer' | 'decimal', scale: number): Column => ({
    kind: 'number',
    type,
    values,
    scale,
    missing: null,
  });
  const reference = (values: Int32Array): Reference => sharedColumn(values.length, (row) => values[row] + 1);
  return {
    version: 'star@1',
    calendar: { first: 0, days: 0 },
    dimensions: { places: dimension(PLACES, SIDE, placeLevels), months: dimension(MONTHS, TOP, monthLevels) },
    rollups: {},
    facts: {
      facts: {
        rows: rows.place.length,
        columns: {
          amount: number(rows.amount, 'decimal', 2),
          quantity: number(rows.quantity, 'integer', 0),
          cost: number(rows.cost, 'decimal', 2),
        },
        links: { places: reference(rows.place), months: reference(rows.month) },
      },
    },
  };
}

/** Nine grouping sets: every depth of one axis with every depth of the other. */
export const starQuery: Query = {
  fact: 'facts',
  filter: null,
  levels: [...SIDE, ...TOP],
  sets: [1, 2, 3].flatMap((side) =>
    [1, 2, 3].map((top) => [...SIDE.slice(0, side).keys(), ...[...TOP.slice(0, top).keys()].map((index) => index + 3)]),
  ),
  aggregates: (['amount', 'quantity', 'cost'] as const).map((name) => ({ fn: 'sum', argument: { kind: 'field', name }, where: null })),
};

/** One group of a result: its set and members in one text, and its three sums, money in cents. */
export type Sums = Map<string, [number, number, number]>;

export const setKey = (set: number[], members: string[]): string => `${set.join()}|${members.join('/')}`;

export function sumsOf(result: QueryResult): Sums {
  const sums: Sums = new Map();
  for (const set of result.sets) {
    for (let group = 0; group < set.size; group++) {
      const members = set.keys.map((codes, position) => result.members[set.levels[position]][codes[group] - 1]);
      const [amount, quantity, cost] = set.values.map((column) => column.values[group]);
      sums.set(setKey(set.levels, members), [Math.round(amount * 100), quantity, Math.round(cost * 100)]);
    }
  }
  return sums;
}
