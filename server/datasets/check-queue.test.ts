import { expect, it } from 'vitest';
import { CheckQueue } from './check-queue.ts';

/** A check that ends when it is told to. */
function heldCheck(): { check: () => Promise<number>; begun: number[]; end: () => void } {
  const begun: number[] = [];
  const ends: (() => void)[] = [];
  const check = (): Promise<number> =>
    new Promise((resolve) => {
      const turn = begun.push(begun.length);
      ends.push(() => resolve(turn));
    });
  return { check, begun, end: () => ends.splice(0).forEach((end) => end()) };
}

it('asks once for all who wait for the same, and again for who comes after it began', async () => {
  const queue = new CheckQueue();
  const { check, begun, end } = heldCheck();
  const running = [queue.share('a', check), queue.share('b', check)];
  await Promise.resolve();
  expect(begun).toHaveLength(2);
  const waiting = Array.from({ length: 20 }, () => queue.share('a', check));
  const other = queue.share('other', check);
  await Promise.resolve();
  expect(begun).toHaveLength(2);
  end();
  expect(await Promise.all(running)).toEqual([1, 2]);
  await new Promise(setImmediate);
  expect(begun).toHaveLength(4);
  end();
  expect(new Set(await Promise.all(waiting))).toEqual(new Set([3]));
  expect(await other).toBe(4);
});

it('a check that fails is no answer for who comes later', async () => {
  const queue = new CheckQueue();
  await expect(queue.share('a', () => Promise.reject(new Error('gone')))).rejects.toThrow('gone');
  expect(await queue.share('a', () => Promise.resolve(7))).toBe(7);
});
