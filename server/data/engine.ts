import { availableParallelism } from 'node:os';
import type { Query, QueryResult, RecordPage, RecordQuery, Store } from '@bold-compass/core/engine';
import type { Dataset } from '@bold-compass/core/model';
import { JsonAnswer, LANE_LIMITS, Lanes, Threads, type LaneLimits, type LaneRequest } from '../threads/index.ts';
import type { EngineTask } from './engine-worker.ts';
import { placeOf, type AnswerTask } from './answer-task.ts';
import type { LoadTask } from './load-worker.ts';

/** Who asks, and whether they still wait. */
export type Asking = Pick<LaneRequest, 'person' | 'signal'>;

const LOADS_AT_ONCE = 2;
/** One more than cores, so that a long question leaves the others theirs. */
const ANSWERS_AT_ONCE = Math.max(2, availableParallelism()) + 1;
/** What an answer takes beside the columns, which all threads share. */
const ANSWER_HEAP_MEGABYTES = 1_500;

/** The threads that answer from columns, and apart from them those that load columns: readers never wait behind a load. */
export class Engine {
  private readonly threads = new Threads<EngineTask>(
    import.meta.url,
    './engine-worker.js',
    './engine-worker.ts',
    Math.max(2, availableParallelism()),
    { heapMegabytes: ANSWER_HEAP_MEGABYTES },
  );
  private readonly loaders = new Threads<LoadTask>(import.meta.url, './load-worker.js', './load-worker.ts', LOADS_AT_ONCE);
  private readonly answers: Lanes<AnswerTask>;

  constructor(private readonly limits: LaneLimits = LANE_LIMITS) {
    const lane = (): Threads<AnswerTask> =>
      new Threads(import.meta.url, './answer-worker.js', './answer-worker.ts', 1, { heapMegabytes: ANSWER_HEAP_MEGABYTES });
    this.answers = new Lanes(Array.from({ length: ANSWERS_AT_ONCE }, lane), limits);
  }

  /** Answers a question, if it can in the thread that answered about the same before. Throws what the question throws, ApiError `took-too-long`. */
  async answer(task: AnswerTask, { person, signal }: Asking): Promise<JsonAnswer> {
    const place = `${task.dataset.name} ${placeOf(task.question)}`;
    return new JsonAnswer(await this.answers.run(task, { place, person, signal }));
  }

  /** Loads a dataset's columns, from its snapshot where there is one. */
  load(task: LoadTask): Promise<Store> {
    return this.loaders.run<Store>(task);
  }

  /** Throws QueryError, TooManyGroupsError, CrosstabTooLargeError, ApiError `took-too-long`. */
  query(dataset: Dataset, store: Store, query: Query): Promise<QueryResult> {
    return this.threads.runFor<QueryResult>({ kind: 'query', dataset, store, query }, this.limits.longest);
  }

  /** Throws as `query` does. */
  records(dataset: Dataset, store: Store, query: RecordQuery): Promise<RecordPage> {
    return this.threads.runFor<RecordPage>({ kind: 'records', dataset, store, query }, this.limits.longest);
  }

  async close(): Promise<void> {
    await Promise.all([this.threads, this.loaders, this.answers].map((threads) => threads.close()));
  }
}
