import { availableParallelism } from 'node:os';
import type { Query, QueryResult, RecordPage, RecordQuery, Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { JsonAnswer, Threads } from '../threads/index.ts';
import type { EngineTask } from './engine-worker.ts';
import type { AnswerTask } from './answer-task.ts';
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

  /** One thread each, so that questions about one exhibit always come to where its table was put together. */
  private readonly answerers = Array.from(
    { length: Math.max(2, availableParallelism()) },
    () => new Threads<AnswerTask>(import.meta.url, './answer-worker.js', './answer-worker.ts', 1),
  );

  /** Answers a question about an exhibit, in the thread that answered about it before. Throws what the question throws. */
  async answer(task: AnswerTask): Promise<JsonAnswer> {
    const place = `${task.dataset.name} ${task.exhibit.id}`;
    let hash = 0;
    for (let index = 0; index < place.length; index++) hash = (hash * 31 + place.charCodeAt(index)) >>> 0;
    return new JsonAnswer(await this.answerers[hash % this.answerers.length].run(task));
  }

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
    await Promise.all([this.threads, this.loaders, ...this.answerers].map((threads) => threads.close()));
  }
}
