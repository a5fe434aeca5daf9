import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { move, Piscina, transferableSymbol, valueSymbol } from 'piscina';
import { ApiError } from '../problems/index.ts';
import { portable, revived } from './failures.ts';

type Answered<Answer> = { answer: Answer } | { failure: ReturnType<typeof portable> };

/** The entry point of a worker: failures are answered as data, so that they keep their kind. */
export function answering<Task, Answer>(run: (task: Task) => Promise<Answer>): (task: Task) => Promise<Answered<Answer>> {
  return async (task) => {
    try {
      return { answer: await run(task) };
    } catch (error) {
      return { failure: portable(error) };
    }
  };
}

/** As `answering`, for answers that are handed over and not copied: the worker must not keep them. */
export function answeringBytes<Task>(
  run: (task: Task) => Promise<Uint8Array<ArrayBuffer>>,
): (task: Task) => Promise<Answered<Uint8Array<ArrayBuffer>>> {
  const answer = answering(run);
  return async (task) => {
    const answered = await answer(task);
    if ('failure' in answered) return answered;
    return move({ [transferableSymbol]: answered.answer.buffer, [valueSymbol]: answered }) as unknown as typeof answered;
  };
}

/** A question that was ended by its limit in time, in milliseconds. */
export const tookTooLong = (longest: number): ApiError =>
  new ApiError(
    'took-too-long',
    `This took longer than ${Math.round(longest / 1_000)} seconds and was ended. Choose a smaller scope, close levels, or make the formulas simpler.`,
  );

/** A pool of threads for one worker module, whose default export is made by `answering`. */
export class Threads<Task> {
  private readonly pool: Piscina;
  private active = 0;
  /** Tasks that wait for a thread: here and not in the pool, which starts none for its line where the last one was ended. */
  private readonly waiting: (() => void)[] = [];

  /**
   * Built, the module lies beside the bundle under `built`; from source it is `source`, both as seen from `from`, the
   * caller's `import.meta.url`. `heapMegabytes` bounds what a thread keeps beside its columns. What runs from source takes built modules from the folder BOLD_COMPASS_THREADS names.
   */
  constructor(
    from: string,
    built: string,
    source: string,
    private readonly most: number,
    { heapMegabytes }: { heapMegabytes?: number } = {},
  ) {
    const folder = process.env.BOLD_COMPASS_THREADS;
    const bundle = folder ? join(folder, built) : fileURLToPath(new URL(built, from));
    const options = existsSync(bundle)
      ? { filename: bundle }
      : { filename: fileURLToPath(new URL(source, from)), execArgv: ['--import', 'tsx'] };
    const limits = heapMegabytes === undefined ? {} : { resourceLimits: { maxOldGenerationSizeMb: heapMegabytes } };
    this.pool = new Piscina({ ...options, minThreads: 0, maxThreads: most, idleTimeout: 3_600_000, ...limits });
    // A thread that ends between two tasks is replaced with the next one.
    this.pool.on('error', () => undefined);
  }

  /** Runs a task; its failure is thrown as what it is. Aborting ends its thread at once. */
  async run<Answer>(
    task: Task,
    options: { transferList?: import('node:worker_threads').MessagePort[]; signal?: AbortSignal } = {},
  ): Promise<Answer> {
    await this.turn(options.signal);
    try {
      const answered = (await this.pool.run(task, options)) as Answered<Answer>;
      if ('failure' in answered) throw revived(answered.failure);
      return answered.answer;
    } finally {
      this.active -= 1;
      this.waiting.shift()?.();
    }
  }

  /** Waits for a free thread. Rejects where nobody waits for the task any more. */
  private async turn(signal: AbortSignal | undefined): Promise<void> {
    signal?.throwIfAborted();
    if (this.active < this.most) {
      this.active += 1;
      return;
    }
    await new Promise<void>((resolve, reject) => {
      const begin = (): void => {
        signal?.removeEventListener('abort', leave);
        this.active += 1;
        resolve();
      };
      const leave = (): void => {
        this.waiting.splice(this.waiting.indexOf(begin), 1);
        reject(signal!.reason as Error);
      };
      this.waiting.push(begin);
      signal?.addEventListener('abort', leave, { once: true });
    });
  }

  /** As `run`, ended with its thread after so many milliseconds. Throws ApiError `took-too-long`. */
  async runFor<Answer>(task: Task, longest: number): Promise<Answer> {
    const signal = AbortSignal.timeout(longest);
    return this.run<Answer>(task, { signal }).catch((error: unknown) => {
      throw signal.aborted ? tookTooLong(longest) : error;
    });
  }

  close(): Promise<void> {
    return this.pool.destroy();
  }
}
