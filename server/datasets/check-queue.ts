import pLimit from 'p-limit';

/** Checks that run at once: the others wait, and readers never wait behind them. */
const CHECKS_AT_ONCE = 2;

/** Runs checks on the data, few at once. */
export class CheckQueue {
  private readonly limit = pLimit(CHECKS_AT_ONCE);
  private readonly waiting = new Map<string, Promise<unknown>>();

  /** Runs a check when its turn comes. Resolves and rejects as the check does. */
  run<Result>(check: () => Promise<Result>): Promise<Result> {
    return this.limit(check);
  }

  /**
   * As `run`, but who asks for what waits already under the same key is answered by that: it has not looked at anything
   * yet, so it will see all that is there now. `key` must tell apart whatever gives other results.
   */
  share<Result>(key: string, check: () => Promise<Result>): Promise<Result> {
    const known = this.waiting.get(key) as Promise<Result> | undefined;
    if (known) return known;
    const turn = this.limit(() => {
      this.waiting.delete(key);
      return check();
    });
    this.waiting.set(key, turn);
    return turn;
  }
}
