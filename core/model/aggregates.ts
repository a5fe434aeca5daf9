/** What is to be known of an aggregate function, beside how it is calculated. */
interface AggregateTraits {
  label: string;
  /** How many arguments it takes, and how that is said: "sum takes …". */
  least: number;
  most: number;
  takes: string;
  /** Whether it reads numbers only; the others read texts and dates too. */
  readsNumbers: boolean;
  /** Whether it is a number of records or values: 0 where there are none. */
  counts: boolean;
  /** Whether its value is one of those it read, of their type. */
  keepsType: boolean;
}

const one = { least: 1, most: 1, takes: 'one value' };
const none = { readsNumbers: false, counts: false, keepsType: false };

/** Every aggregate function. Its kernel is in `core/engine/aggregates.ts`, its SQL in `server/sql/aggregates.ts`. */
export const AGGREGATES = {
  sum: { ...one, ...none, label: 'Sum', takes: 'one value, as in sum(quantity)', readsNumbers: true },
  avg: { ...one, ...none, label: 'Average', takes: 'one value, as in avg(unit_price)', readsNumbers: true },
  min: { ...one, ...none, label: 'Minimum', keepsType: true },
  max: { ...one, ...none, label: 'Maximum', keepsType: true },
  count: {
    ...{ ...none, label: 'Count', counts: true },
    ...{ least: 0, most: 1, takes: 'nothing (to count records) or one value (to count those that have it)' },
  },
  count_distinct: { ...one, ...none, label: 'Distinct count', counts: true },
  median: { ...one, ...none, label: 'Median', readsNumbers: true },
  percentile: {
    ...{ ...none, label: 'Percentile', readsNumbers: true },
    ...{ least: 2, most: 2, takes: 'a value and a fraction, as in percentile(x, 0.9)' },
  },
  mode: { ...one, ...none, label: 'Mode', keepsType: true },
  stddev: { ...one, ...none, label: 'Standard deviation', readsNumbers: true },
  stddev_pop: { ...one, ...none, label: 'Standard deviation of the population', readsNumbers: true },
  variance: { ...one, ...none, label: 'Variance', readsNumbers: true },
  var_pop: { ...one, ...none, label: 'Variance of the population', readsNumbers: true },
} satisfies Record<string, AggregateTraits>;

/** Aggregate functions, named as in the formula language. */
export type AggregateName = keyof typeof AGGREGATES;

export const isAggregate = (name: string): name is AggregateName => Object.hasOwn(AGGREGATES, name);
