import type { Query, QueryResult, RecordPage, RecordQuery, Store } from '@bold-compass/core/engine';
import { factNamed, type Dataset, type Filter, type Literal, type PromptValues } from '@bold-compass/core/model';
import { finiteDate, identifier, listRecordsInDatabase, runQueryInDatabase, type Queryable, type Relation } from '../sql/index.ts';

/** Answers questions about a dataset's records, wherever they are. */
export interface Runner {
  query(query: Query): Promise<QueryResult>;
  records(query: RecordQuery): Promise<RecordPage>;
}

/** Records that stay where they are: how their database is asked, and the query that stands for their table. */
export interface LiveSource {
  ask<Result>(question: (database: Queryable) => Promise<Result>): Promise<Result>;
  /**
   * The query, its parameters filled with what is chosen for physical columns, and those that are called as a prompt with what that
   * one stands for. Throws ApiError where a column has several.
   */
  relation(chosen: (column: string) => Literal[] | undefined, prompts: PromptValues): Relation;
}

/** What a filter leaves of a field: the members that all of its conditions name; undefined where they name none. */
function chosenOf(filter: Filter | null, field: string): Literal[] | undefined {
  if (!filter) return undefined;
  if (filter.op === 'and') {
    const found = filter.items.flatMap((item) => {
      const chosen = chosenOf(item, field);
      return chosen ? [chosen] : [];
    });
    return found.length === 0 ? undefined : found.reduce((left, right) => left.filter((value) => right.includes(value)));
  }
  if (filter.op === 'eq' && filter.field === field) return [filter.value];
  return filter.op === 'in' && filter.field === field ? filter.values : undefined;
}

/** Finds the live source of a name. Throws ApiError `not-found`. */
export type FindLiveSource = (name: string) => Promise<LiveSource>;

/** Asks the source's database each time, by the SQL runner. */
export class LiveRunner implements Runner {
  constructor(
    private readonly dataset: Dataset,
    private readonly source: LiveSource,
  ) {}

  query(query: Query): Promise<QueryResult> {
    const relation = this.relation(query);
    return this.source.ask((client) => runQueryInDatabase(client, this.dataset, query, relation));
  }

  records(query: RecordQuery): Promise<RecordPage> {
    const relation = this.relation(query);
    return this.source.ask((client) => listRecordsInDatabase(client, this.dataset, query, relation));
  }

  private relation({ fact, filter, promptValues = {} }: Pick<Query, 'fact' | 'filter' | 'promptValues'>): Relation {
    const { fields } = factNamed(this.dataset, fact);
    return this.source.relation((column) => {
      const field = fields.find((one) => one.column === column);
      return field && chosenOf(filter, field.name);
    }, promptValues);
  }
}

/** What is known of live records without holding them: the days they span. */
export async function liveStore(dataset: Dataset, source: LiveSource, version: string): Promise<Store> {
  const relation = source.relation(() => undefined, {});
  const store: Store = { version, calendar: { first: 0, days: 0 }, dimensions: {}, rollups: {}, facts: {} };
  const columns = dataset.facts.flatMap(({ links }) => links.map(({ column }) => identifier(column)));
  if (columns.length === 0) return store;
  const spans = columns.map((column) => `SELECT min(${finiteDate(column)}) AS first, max(${finiteDate(column)}) AS last FROM q`);
  const { rows } = await source.ask((client) =>
    client.query(
      `WITH q AS (\n${relation.sql}\n) SELECT min(first) - date '1970-01-01' AS first, max(last) - date '1970-01-01' AS last FROM (${spans.join(' UNION ALL ')}) AS spans`,
      relation.values,
    ),
  );
  const { first, last } = rows[0] as { first: number | null; last: number | null };
  return first === null || last === null ? store : { ...store, calendar: { first, days: last - first + 1 } };
}
