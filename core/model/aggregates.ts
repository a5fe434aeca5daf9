/** What is to be known of an aggregate function, beside how it is calculated. */
interface AggregateTraits {
  label: string;
  /** What it does, in a sentence for authors of formulas, and a formula that uses it. */
  about: string;
  example: string;
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
  /** Whether the parts of a whole add up to it. */
  additive: boolean;
  /** Whether it makes sense over the values of members. */
  overMembers: boolean;
  /**
   * How it takes in one member after another: `merge` from its own values, `quotient` as a sum over a count, `members` by
   * going through the members of its field, `counts` by going through how often each value stands.
   */
  running: 'merge' | 'quotient' | 'members' | 'counts';
  /** Digits after the point of a measure that is made of it; null is those of the field. */
  decimals: number | null;
  /** Where documents may ask for it instead of a measure's own. */
  offered: readonly ('cells' | 'lists')[];
}

const one = { least: 1, most: 1, takes: 'one value' } as const;
const traits = {
  ...{ readsNumbers: false, counts: false, keepsType: false, additive: false, overMembers: true, decimals: null },
  offered: [],
} as const;
const everywhere = ['cells', 'lists'] as const;

/** Every aggregate function. Its kernel is in `core/engine/aggregates.ts`, its SQL in `server/sql/aggregates.ts`. */
export const AGGREGATES = {
  sum: {
    ...{ ...one, ...traits, label: 'Sum', takes: 'one value, as in sum(quantity)' },
    ...{ readsNumbers: true, additive: true, running: 'merge', offered: everywhere },
    about: 'Adds a value over the records of the cell.',
    example: "sum(net_amount where channel = 'Online')",
  },
  avg: {
    ...{ ...one, ...traits, label: 'Average', takes: 'one value, as in avg(unit_price)' },
    ...{ readsNumbers: true, running: 'quotient', decimals: 2, offered: everywhere },
    about: 'The average over the records, or weighted by another value.',
    example: 'avg(unit_price, weight: quantity)',
  },
  min: {
    ...{ ...one, ...traits, label: 'Minimum', keepsType: true, running: 'merge', offered: everywhere },
    about: 'The smallest value, the first date, the first text.',
    example: 'min(order_date)',
  },
  max: {
    ...{ ...one, ...traits, label: 'Maximum', keepsType: true, running: 'merge', offered: everywhere },
    about: 'The largest value, the last date, the last text.',
    example: 'max(order_date)',
  },
  count: {
    ...{ ...traits, label: 'Count', counts: true, additive: true, running: 'merge', offered: everywhere },
    ...{ least: 0, most: 1, takes: 'nothing (to count records) or one value (to count those that have it)' },
    about: 'How many records, or how many that have a value.',
    example: 'count(per customer where net_sales > 1000)',
  },
  count_distinct: {
    ...{ ...one, ...traits, label: 'Distinct count', counts: true, running: 'members', offered: everywhere },
    about: 'How many different values.',
    example: 'count_distinct(customer)',
  },
  median: {
    ...{ ...one, ...traits, label: 'Median', readsNumbers: true, running: 'counts', decimals: 2, offered: ['cells'] },
    about: 'The middle value.',
    example: 'median(net_sales per customer)',
  },
  percentile: {
    ...{ ...traits, label: 'Percentile', readsNumbers: true, running: 'counts' },
    ...{ least: 2, most: 2, takes: 'a value and a fraction, as in percentile(x, 0.9)' },
    about: 'The value that this part of the values lies below.',
    example: 'percentile(net_sales per customer, 0.9)',
  },
  mode: {
    ...{ ...one, ...traits, label: 'Mode', keepsType: true, overMembers: false, running: 'counts' },
    about: 'The most frequent value.',
    example: 'mode(channel)',
  },
  stddev: {
    ...{ ...one, ...traits, label: 'Standard deviation', readsNumbers: true, running: 'counts', offered: ['cells'] },
    about: 'The standard deviation of a sample.',
    example: 'stddev(net_sales per day)',
  },
  stddev_pop: {
    ...{ ...one, ...traits, label: 'Standard deviation of the population', readsNumbers: true, running: 'counts' },
    about: 'The standard deviation of all values.',
    example: 'stddev_pop(net_sales per day)',
  },
  variance: {
    ...{ ...one, ...traits, label: 'Variance', readsNumbers: true, running: 'counts' },
    about: 'The variance of a sample.',
    example: 'variance(unit_price)',
  },
  var_pop: {
    ...{ ...one, ...traits, label: 'Variance of the population', readsNumbers: true, running: 'counts' },
    about: 'The variance of all values.',
    example: 'var_pop(unit_price)',
  },
} as const satisfies Record<string, AggregateTraits>;

/** Aggregate functions, named as in the formula language. */
export type AggregateName = keyof typeof AGGREGATES;

/** The traits of an aggregate function. */
export const aggregateTraits = (name: AggregateName): AggregateTraits => AGGREGATES[name];

export const AGGREGATE_NAMES = Object.keys(AGGREGATES) as AggregateName[];

export const isAggregate = (name: string): name is AggregateName => Object.hasOwn(AGGREGATES, name);

/** Aggregates that follow from how often each value stands, without the records one by one. */
export type CountedAggregate = {
  [Name in AggregateName]: (typeof AGGREGATES)[Name]['running'] extends 'counts' ? Name : never;
}[AggregateName];

export const isCounted = (name: AggregateName): name is CountedAggregate => aggregateTraits(name).running === 'counts';

type OfferedIn<Place> = {
  [Name in AggregateName]: Place extends (typeof AGGREGATES)[Name]['offered'][number] ? Name : never;
}[AggregateName];

/** The aggregates that documents may ask for in a place, in their order. */
export const aggregatesOffered = <Place extends 'cells' | 'lists'>(place: Place): [OfferedIn<Place>, ...OfferedIn<Place>[]] =>
  AGGREGATE_NAMES.filter((name) => aggregateTraits(name).offered.includes(place)) as [OfferedIn<Place>, ...OfferedIn<Place>[]];
