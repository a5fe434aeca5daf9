import type { Query, QueryResult } from '../engine/index.ts';
import type { Filter } from '../model/index.ts';
import type { DateSpan } from './date-frames.ts';

/** What is to be known of the data before a plan can be asked. */
export interface PlanData {
  /** First day, counted from 1970-01-01, and number of days that the calendar spans. */
  readonly calendar: { first: number; days: number };
  members(levels: string[], filter: Filter | null): Promise<(string | null)[][] | null>;
  query(query: Query): Promise<QueryResult>;
  /** The first and the last day that a fact has records of by a calendar; null where it has none. */
  span(fact: string, calendar: string): Promise<DateSpan | null>;
}
