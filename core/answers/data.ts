import type { DateSpan } from '../crosstab/index.ts';
import type { Query, QueryResult, RecordPage, RecordQuery } from '../engine/index.ts';
import type { Filter } from '../model/index.ts';

/** A path of members along the levels of an axis; null is a missing member. */
export type MemberPath = (string | null)[];

/**
 * Where answers come from: the records and members of a dataset as one reader may see them. Whoever implements this sees
 * to it that nothing outside the reader's access rules comes through.
 */
export interface AnswerData {
  /** Cache key of the state of the data, and of what different readers are answered. */
  readonly key: string;
  /** First day, counted from 1970-01-01, and number of days that the calendar spans. */
  readonly calendar: { first: number; days: number };
  /** Throws QueryError, TooManyGroupsError, CrosstabTooLargeError. */
  query(query: Query): Promise<QueryResult>;
  records(query: RecordQuery): Promise<RecordPage>;
  /** Members along levels of one dimension that exist with or without records; null where that cannot be known. */
  members(levels: string[], filter: Filter | null): Promise<MemberPath[] | null>;
  /**
   * The first and the last day that a fact has records of by a calendar, whoever asks: all readers compare the same days.
   * Null where it has none.
   */
  span(fact: string, calendar: string): Promise<DateSpan | null>;
  /** The words for the members of a field, where they are not their own; null where they are. */
  labels(field: string): Promise<ReadonlyMap<string, string> | null>;
  /** The place of each member of a level in the order of another field of its dimension; null where there is none. */
  order(field: string, by: string): Promise<ReadonlyMap<string, number> | null>;
  /** A condition as the reader may read it: without the names of members that are not theirs to see. */
  readable(filter: Filter | null): Promise<Filter | null>;
}
