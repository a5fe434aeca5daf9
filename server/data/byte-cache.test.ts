import { describe, expect, it } from 'vitest';
import { ByteCache } from './byte-cache.ts';

const settled = (): Promise<void> => new Promise((resolve) => setImmediate(resolve));

describe('a cache that is bounded by bytes', () => {
  it('forgets what was used least once its answers are larger than that together', async () => {
    const cache = new ByteCache<string>(10_000, (text) => text.length);
    cache.set('a', Promise.resolve('x'.repeat(4_000)));
    cache.set('b', Promise.resolve('x'.repeat(4_000)));
    await settled();
    expect(await cache.get('a')).toHaveLength(4_000);
    cache.set('c', Promise.resolve('x'.repeat(4_000)));
    await settled();
    expect([cache.get('a') !== undefined, cache.get('b'), cache.get('c') !== undefined]).toEqual([true, undefined, true]);
    expect(cache.bytes).toBeLessThanOrEqual(10_000);
  });
  it('keeps nothing that is larger than all of it, nor what failed', async () => {
    const cache = new ByteCache<string>(10_000, (text) => text.length);
    cache.set('large', Promise.resolve('x'.repeat(20_000)));
    const failure = Promise.reject(new Error('no'));
    cache.set('failed', failure);
    await failure.catch(() => undefined);
    await settled();
    expect([cache.get('large'), cache.get('failed')]).toEqual([undefined, undefined]);
  });
});
