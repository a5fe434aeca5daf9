import { afterAll, describe, expect, it } from 'vitest';
import { Threads } from './index.ts';

/** Threads that are ended while others wait for them. */

const threads = new Threads<{ wait: number | null }>(import.meta.url, './no-such-bundle.js', './testing/waiting-worker.ts', 1);
afterAll(() => threads.close());

describe('a thread that is ended', () => {
  it('makes room for what waited in line for it', async () => {
    const ending = new AbortController();
    const first = threads.run({ wait: null }, { signal: ending.signal }).catch((error: unknown) => error);
    const second = threads.run<string>({ wait: 1 });
    const third = threads.run<string>({ wait: 2 });
    ending.abort();
    expect(await first).toBeInstanceOf(Error);
    expect(await Promise.all([second, third])).toEqual(['waited 1', 'waited 2']);
  });

  it('is not waited for by who gave up in line', async () => {
    const [running, waiting] = [new AbortController(), new AbortController()];
    const first = threads.run({ wait: null }, { signal: running.signal }).catch((error: unknown) => error);
    const second = threads.run({ wait: 1 }, { signal: waiting.signal }).catch((error: unknown) => error);
    const third = threads.run<string>({ wait: 3 });
    waiting.abort();
    expect(await second).toMatchObject({ name: 'AbortError' });
    await expect(threads.run({ wait: 1 }, { signal: waiting.signal })).rejects.toMatchObject({ name: 'AbortError' });
    running.abort();
    await first;
    expect(await third).toBe('waited 3');
  });
});
