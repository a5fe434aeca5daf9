import type { AggregateName, Filter, PromptValues } from '../model/index.ts';
import type { RecordScalarName } from './scalars.ts';

export type ArithmeticOperator = '+' | '-' | '*' | '/' | '%' | '^';

/** One value per record. Numbers are exact decimals until a division or a root makes them floats. */
export type RecordExpression =
  | { kind: 'constant'; value: number; scale: number }
  | { kind: 'field'; name: string }
  | { kind: 'negate'; operand: RecordExpression }
  | { kind: 'arithmetic'; op: ArithmeticOperator; left: RecordExpression; right: RecordExpression }
  | { kind: 'coalesce'; items: RecordExpression[] }
  | { kind: 'choose'; when: RecordCondition; then: RecordExpression; otherwise: RecordExpression | null }
  | { kind: 'text'; value: string }
  | { kind: 'date'; day: number }
  | { kind: 'boolean'; value: boolean }
  /** A function of `SCALARS`; numbers it gives are whole in units of 10^-scale, or floats where it is null. */
  | { kind: 'apply'; fn: RecordScalarName; args: RecordExpression[]; scale: number | null };

/** A condition on a record: one of documents, or an expression that has to hold. */
export type RecordCondition = Filter | { op: 'test'; expression: RecordExpression };

export interface AggregateCall {
  fn: AggregateName;
  /** What is aggregated; null for `count()`, which counts records. */
  argument: RecordExpression | null;
  /** Only records for which this holds. */
  where: RecordCondition | null;
  /** The fraction of `percentile`, 0 to 1. */
  fraction?: number;
}

/**
 * Days that count in other periods than their own: a day is counted in every target whose ranges it lies in. Targets are
 * told for each set of the query, since a total is not made of the targets below it.
 */
export interface DateFrame {
  /** The calendar whose periods, among the query's levels, are those of targets. Weekdays stay what they are. */
  calendar: string;
  /** For each set of the query. */
  sets: FrameTarget[][];
}

export interface FrameTarget {
  /** The members of the set's periods of this calendar, in the order of the set. */
  keys: string[];
  /** Days since 1970-01-01, first and last of each range; ranges do not overlap. */
  ranges: { first: number; last: number }[];
  /** Only records of these members, of further levels of the set: the same levels for all targets of a set. */
  within?: { field: string; member: string | null }[];
}

/** What both runners answer: the aggregates of one fact at several sets of grouping levels. */
export interface Query {
  fact: string;
  filter: Filter | null;
  /** Fields that sets refer to by position. */
  levels: string[];
  /** Each a set of positions in `levels`; `[]` is the grand total. */
  sets: number[][];
  aggregates: AggregateCall[];
  frame?: DateFrame;
  /** What prompts stand for, where records are asked for by it: those of live sources. */
  promptValues?: PromptValues;
  /** What the answer may at most become as a table; refused before it is put together. */
  bounds?: TableBounds;
}

/**
 * The sets that make the rows of a table (positions in `sets`), those that make its columns, the most cells it may have, and
 * the most lines of either axis.
 */
export interface TableBounds {
  rows: number[];
  columns: number[];
  cells: number;
  lines: number;
}

/** More cells than a cross-tab can hold at once. */
export class CrosstabTooLargeError extends Error {
  constructor(
    readonly rows: number,
    readonly columns: number,
  ) {
    super(`This would make ${rows} rows and ${columns} columns.`);
    this.name = 'CrosstabTooLargeError';
  }
}

/** Throws CrosstabTooLargeError where sets of these sizes make a larger table than allowed. */
export function refuseTooLarge(bounds: TableBounds | undefined, sizeOf: (set: number) => number): void {
  if (!bounds) return;
  const total = (sets: number[]): number => sets.reduce((sum, set) => sum + sizeOf(set), 0);
  const [rows, columns] = [total(bounds.rows), total(bounds.columns)];
  // The total of an axis is a line too, but not one that is counted in words.
  if (rows * columns > bounds.cells || Math.max(rows, columns) > bounds.lines)
    throw new CrosstabTooLargeError(Math.max(rows - 1, 0), Math.max(columns - 1, 0));
}

/** Values of one aggregate, one per group. NaN, or code 0 for texts, stands for "no value". */
export type AggregateValues =
  | { type: 'number'; values: Float64Array; scale: number | null }
  | { type: 'date'; values: Float64Array }
  | { type: 'text'; values: Float64Array; members: string[] };

export interface GroupingSetResult {
  /** Positions in the query's `levels`. */
  levels: number[];
  /** Number of groups that have at least one record. */
  size: number;
  /** Per level of the set: the member code of each group; 0 stands for a missing member. */
  keys: Int32Array[];
  /** Records counted in each group, after the filter. */
  records: Float64Array;
  values: AggregateValues[];
}

export interface QueryResult {
  /** Per level: the members; code c stands for `members[c - 1]`. */
  members: string[][];
  sets: GroupingSetResult[];
}

/** More groups than a cross-tab can hold. */
export class TooManyGroupsError extends Error {
  constructor(readonly groups: number) {
    super(`The question makes ${groups} groups, more than can be shown.`);
    this.name = 'TooManyGroupsError';
  }
}

/** A query that does not fit its dataset: a text added up, a field the fact does not know. */
export class QueryError extends Error {
  constructor(
    readonly code: 'not-a-number' | 'not-a-date' | 'field-not-known' | 'not-comparable' | 'not-loaded',
    readonly subject: string,
    message: string,
  ) {
    super(message);
    this.name = 'QueryError';
  }
}
