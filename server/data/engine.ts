import { availableParallelism } from 'node:os';
import {
  QueryError,
  TooManyGroupsError,
  type Query,
  type QueryResult,
  type RecordPage,
  type RecordQuery,
  type Store,
} from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import type { Piscina } from 'piscina';
import { startThreads } from '../threads/index.ts';
import type { Task } from './worker.ts';

/** The threads that hold no state of their own but what they remember of stores. */
export class Engine {
  private readonly threads: Piscina = startThreads(import.meta.url, './worker.js', './worker.ts', Math.max(2, availableParallelism()));

  /** Loads a dataset's columns, from its snapshot where there is one. `snapshot` is its file; null keeps none. */
  load(url: string, dataset: Dataset, version: string, snapshot: string | null = null): Promise<Store> {
    return this.run<Store>({ kind: 'load', url, dataset, version, snapshot });
  }

  query(dataset: Dataset, store: Store, query: Query): Promise<QueryResult> {
    return this.run<QueryResult>({ kind: 'query', dataset, store, query });
  }

  records(dataset: Dataset, store: Store, query: RecordQuery): Promise<RecordPage> {
    return this.run<RecordPage>({ kind: 'records', dataset, store, query });
  }

  close(): Promise<void> {
    return this.threads.destroy();
  }

  private async run<Answer>(task: Task): Promise<Answer> {
    try {
      return (await this.threads.run(task)) as Answer;
    } catch (error) {
      throw revive(error);
    }
  }
}

/** Errors lose their class on the way between threads: the ones the server tells apart are made anew. */
function revive(error: unknown): unknown {
  if (!(error instanceof Error)) return error;
  if (error.name === 'TooManyGroupsError') return new TooManyGroupsError(Number((error as TooManyGroupsError).groups ?? 0));
  if (error.name === 'QueryError') {
    const { code, subject } = error as QueryError;
    return new QueryError(code ?? 'not-comparable', subject ?? '', error.message);
  }
  return error;
}
