import { LRUCache } from 'lru-cache';
import { ApiError } from '../problems/index.ts';
import { tookTooLong, type Threads } from './threads.ts';

/** Who asks, about what, and whether they still wait. */
export interface LaneRequest {
  /** What the answer is about: a lane that answered about it keeps what it put together. */
  place: string;
  /** Whose question it is: nobody's questions hold all lanes. */
  person: string;
  /** Aborted when nobody waits for the answer any more. */
  signal?: AbortSignal;
}

export interface LaneLimits {
  /** A question is ended after this long, with its thread. In milliseconds, as all of these. */
  longest: number;
  /** A question waits this long for the lane that knows its place before a free one takes it. */
  patience: number;
  /** A question that nobody waits for any more is let run this long: threads cost more to start than most questions. */
  grace: number;
}

export const LANE_LIMITS: LaneLimits = { longest: 20_000, patience: 60, grace: 1_500 };
/** Places whose lanes are remembered. */
const MOST_PLACES = 2_000;

interface Lane<Task> {
  threads: Pick<Threads<Task>, 'run' | 'close'>;
  /** Who is answered, and since when; null where the lane is free. */
  busy: { person: string; since: number } | null;
}

interface Waiting<Task> extends LaneRequest {
  task: Task;
  resolve(answer: unknown): void;
  reject(error: unknown): void;
}

const tookTooMuch = (): ApiError =>
  new ApiError('took-too-long', 'This needs more memory than one question may take and was ended. Choose a smaller scope or close levels.');
/** Nobody reads this: who asked is gone. */
const abandoned = (): ApiError => new ApiError('bad-request', 'This request was given up before it was answered.');

/**
 * Threads that answer one question each at a time. A question goes to the lane that answered about its place before; where
 * that one is busy for longer than a moment, a free lane takes it. Every question has a limit in time, which ends its thread.
 */
export class Lanes<Task> {
  private readonly lanes: Lane<Task>[];
  private readonly waiting: Waiting<Task>[] = [];
  private readonly homes = new LRUCache<string, Lane<Task>>({ max: MOST_PLACES });
  private timer: NodeJS.Timeout | undefined;

  /** `threads` has one thread a lane. */
  constructor(
    threads: Lane<Task>['threads'][],
    private readonly limits: LaneLimits = LANE_LIMITS,
  ) {
    this.lanes = threads.map((own) => ({ threads: own, busy: null }));
  }

  /** Runs a task when its turn comes. Throws what the task throws, and ApiError `took-too-long`. */
  run<Answer>(task: Task, request: LaneRequest): Promise<Answer> {
    return new Promise<Answer>((answer, fail) => {
      const { signal } = request;
      if (signal?.aborted) return fail(abandoned());
      // One signal may go with many questions: none of them stays with it when it is answered.
      const leave = (): void => this.leave(waiting);
      const settled =
        <Value>(settle: (value: Value) => void) =>
        (value: Value): void => {
          signal?.removeEventListener('abort', leave);
          settle(value);
        };
      const waiting: Waiting<Task> = { ...request, task, resolve: settled(answer) as Waiting<Task>['resolve'], reject: settled(fail) };
      this.waiting.push(waiting);
      signal?.addEventListener('abort', leave, { once: true });
      this.dispatch();
    });
  }

  async close(): Promise<void> {
    clearTimeout(this.timer);
    await Promise.all(this.lanes.map(({ threads }) => threads.close()));
  }

  /** Whoever waits in vain waits no longer. */
  private leave(waiting: Waiting<Task>): void {
    const at = this.waiting.indexOf(waiting);
    if (at < 0) return;
    this.waiting.splice(at, 1);
    waiting.reject(abandoned());
  }

  private dispatch(): void {
    clearTimeout(this.timer);
    let soonest = Infinity;
    for (const one of [...this.waiting]) {
      if (this.lanes.filter(({ busy }) => busy?.person === one.person).length >= Math.max(1, this.lanes.length - 1)) continue;
      const home = this.homes.get(one.place);
      const free = home?.busy === null ? home : this.lanes.find(({ busy }) => busy === null);
      if (!free) break;
      const wait = home?.busy ? home.busy.since + this.limits.patience - performance.now() : 0;
      if (free === home || wait <= 0) this.start(free, one);
      else soonest = Math.min(soonest, wait);
    }
    if (soonest < Infinity) this.timer = setTimeout(() => this.dispatch(), soonest);
  }

  private start(lane: Lane<Task>, waiting: Waiting<Task>): void {
    const { task, place, person, signal, resolve, reject } = waiting;
    this.waiting.splice(this.waiting.indexOf(waiting), 1);
    const since = performance.now();
    lane.busy = { person, since };
    this.homes.set(place, lane);
    const ending = new AbortController();
    let reason: ApiError = tookTooLong(this.limits.longest);
    const timers = [setTimeout(() => ending.abort(), this.limits.longest)];
    const give = (): void => {
      reason = abandoned();
      timers.push(setTimeout(() => ending.abort(), Math.max(0, since + this.limits.grace - performance.now())));
    };
    signal?.addEventListener('abort', give, { once: true });
    lane.threads
      .run(task, { signal: ending.signal })
      .finally(() => {
        timers.forEach(clearTimeout);
        signal?.removeEventListener('abort', give);
        lane.busy = null;
        this.dispatch();
      })
      .then(resolve, (error: unknown) => reject(ending.signal.aborted ? reason : isOutOfMemory(error) ? tookTooMuch() : error));
  }
}

/** Whether a thread ended since its heap was full. */
export const isOutOfMemory = (error: unknown): boolean => (error as { code?: unknown } | null)?.code === 'ERR_WORKER_OUT_OF_MEMORY';
