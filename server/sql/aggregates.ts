import type { AggregateName } from '@bold-compass/core/model';

/** What an aggregate is written from: its argument as SQL, its filter clause, and the fraction of a percentile. */
interface AggregateParts {
  argument: string;
  filter: string;
  fraction: number;
}

const plain =
  (name: string) =>
  ({ argument, filter }: AggregateParts): string =>
    `${name}(${argument})${filter}`;
/** Deviations of numeric keep the digits after the point of their input: whole numbers need more. */
const deviation =
  (name: string) =>
  ({ argument, filter }: AggregateParts): string =>
    `${name}(${argument} * 1.0000000000000000)${filter}`;
const percentile = (fraction: string, { argument, filter }: AggregateParts): string =>
  `percentile_cont(${fraction}) WITHIN GROUP (ORDER BY ${argument}::float8)${filter}`;

/** Every aggregate function in PostgreSQL's words. */
export const AGGREGATE_SQL: Record<AggregateName, (parts: AggregateParts) => string> = {
  sum: plain('sum'),
  avg: plain('avg'),
  min: plain('min'),
  max: plain('max'),
  count: plain('count'),
  count_distinct: ({ argument, filter }) => `count(DISTINCT ${argument})${filter}`,
  median: (parts) => percentile('0.5', parts),
  percentile: (parts) => percentile(`${parts.fraction}::float8`, parts),
  mode: ({ argument, filter }) => `mode() WITHIN GROUP (ORDER BY ${argument})${filter}`,
  stddev: deviation('stddev_samp'),
  stddev_pop: deviation('stddev_pop'),
  variance: deviation('var_samp'),
  var_pop: deviation('var_pop'),
};
