import { availableParallelism } from 'node:os';
import type { Query, QueryResult, RecordPage, RecordQuery, Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { Threads } from '../threads/index.ts';
import type { EngineTask } from './engine-worker.ts';
import type { LoadTask } from './load-worker.ts';

const LOADS_AT_ONCE = 2;

/** The threads that answer from columns, and apart from them those that load columns: readers never wait behind a load. */
export class Engine {
  private readonly threads = new Threads<EngineTask>(
    import.meta.url,
    './engine-worker.js',
    './engine-worker.ts',
    Math.max(2, availableParallelism()),
  );
  private readonly loaders = new Threads<LoadTask>(import.meta.url, './load-worker.js', './load-worker.ts', LOADS_AT_ONCE);

  /** Loads a dataset's columns, from its snapshot where there is one. */
  load(task: LoadTask): Promise<Store> {
    return this.loaders.run<Store>(task);
  }

  /** Throws QueryError, TooManyGroupsError, CrosstabTooLargeError. */
  query(dataset: Dataset, store: Store, query: Query): Promise<QueryResult> {
    return this.threads.run<QueryResult>({ kind: 'query', dataset, store, query });
  }

  records(dataset: Dataset, store: Store, query: RecordQuery): Promise<RecordPage> {
    return this.threads.run<RecordPage>({ kind: 'records', dataset, store, query });
  }

  async close(): Promise<void> {
    await Promise.all([this.threads.close(), this.loaders.close()]);
  }
}
