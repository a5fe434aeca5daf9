import { LRUCache } from 'lru-cache';
import { ApiError } from '../problems/index.ts';

interface ThrottleLimits {
  /** As many wrong tries cost no time. */
  free: number;
  /** What the next one waits, in milliseconds; each further one twice as long, up to `longest`. */
  first: number;
  longest: number;
  /** As many tries wait at once. */
  waiting: number;
}

const LIMITS: ThrottleLimits = { free: 10, first: 1_000, longest: 30_000, waiting: 20 };
/** Wrong tries are forgotten after this. */
const REMEMBERED_MILLISECONDS = 15 * 60_000;

const after = (milliseconds: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, milliseconds));

interface Line {
  failures: number;
  waiting: number;
  last: Promise<unknown>;
}

/**
 * Slows down whoever tries many passwords for one account from one place: tries are made one after the other, and wait longer
 * after each wrong one. The right password gets in, however many wrong ones came before it.
 */
export class SignInThrottle {
  private readonly lines = new LRUCache<string, Line>({ max: 50_000, ttl: REMEMBERED_MILLISECONDS, updateAgeOnGet: true });

  constructor(private readonly limits: ThrottleLimits = LIMITS) {}

  /** Makes a try when its turn comes; null is a wrong one. Throws ApiError `too-many-tries` where too many wait already. */
  async attempt<Result>(place: string, account: string, tryIt: () => Promise<Result | null>): Promise<Result | null> {
    const key = JSON.stringify([place, account.trim().toLowerCase()]);
    const line = this.lines.get(key) ?? { failures: 0, waiting: 0, last: Promise.resolve() };
    if (line.waiting >= this.limits.waiting)
      throw new ApiError('too-many-tries', 'Too many tries are waiting already. Wait a minute, then try again.');
    this.lines.set(key, line);
    line.waiting++;
    const turn = line.last.then(async () => {
      const { free, first, longest } = this.limits;
      if (line.failures >= free) await after(Math.min(longest, first * 2 ** (line.failures - free)));
      const result = await tryIt();
      if (result === null) line.failures++;
      else line.failures = 0;
      return result;
    });
    line.last = turn.catch(() => undefined);
    return turn.finally(() => line.waiting--);
  }
}
