import { describe, expect, it, vi } from 'vitest';
import { SignInThrottle } from './sign-in-throttle.ts';

const limits = { free: 3, first: 100, longest: 400, waiting: 8 };

/** Tries a password; counts those that were looked at. */
function tries(throttle: SignInThrottle) {
  const looked: string[] = [];
  const attempt = (password: string, account = 'a@b.example', place = 'here') =>
    throttle.attempt(place, account, () => {
      looked.push(password);
      return Promise.resolve(password === 'right' ? 'in' : null);
    });
  return { looked, attempt };
}

describe('wrong passwords', () => {
  it('are looked at one after the other, and later ones wait longer each time, also where they come at once', async () => {
    vi.useFakeTimers();
    const { looked, attempt } = tries(new SignInThrottle(limits));
    const all = Array.from({ length: 7 }, (_, index) => attempt(`wrong ${index}`));
    await vi.advanceTimersByTimeAsync(0);
    expect(looked).toHaveLength(3);
    for (const [time, count] of [
      [99, 3],
      [1, 4],
      [199, 4],
      [1, 5],
      [400, 6],
      [400, 7],
    ]) {
      await vi.advanceTimersByTimeAsync(time);
      expect(looked).toHaveLength(count);
    }
    expect(await Promise.all(all)).toEqual(Array(7).fill(null));
  });

  it('keep the right one out no longer than the longest wait, and it ends the waiting', async () => {
    vi.useFakeTimers();
    const { looked, attempt } = tries(new SignInThrottle(limits));
    const wrong = Array.from({ length: 3 }, () => attempt('wrong'));
    const right = attempt('right', 'A@b.example ');
    await vi.advanceTimersByTimeAsync(100);
    expect(await right).toBe('in');
    await Promise.all(wrong);
    void attempt('wrong again');
    await vi.advanceTimersByTimeAsync(0);
    expect(looked.at(-1)).toBe('wrong again');
  });

  it('hold up nobody else, and nobody from elsewhere', async () => {
    vi.useFakeTimers();
    const { looked, attempt } = tries(new SignInThrottle(limits));
    for (let count = 0; count < 6; count++) void attempt('wrong');
    void attempt('of another', 'c@d.example');
    void attempt('from elsewhere', 'a@b.example', 'there');
    await vi.advanceTimersByTimeAsync(0);
    expect(looked.filter((one) => one !== 'wrong').sort()).toEqual(['from elsewhere', 'of another']);
  });

  it('are refused where too many wait', async () => {
    vi.useFakeTimers();
    const { attempt } = tries(new SignInThrottle(limits));
    for (let count = 0; count < 8; count++) void attempt('wrong');
    await expect(attempt('one more')).rejects.toMatchObject({ code: 'too-many-tries' });
  });
});
