import { getEventListeners } from 'node:events';
import { describe, expect, it, vi } from 'vitest';
import { ApiError } from '../problems/index.ts';
import { Lanes, type LaneLimits } from './index.ts';

interface Running {
  lane: number;
  task: string;
  signal: AbortSignal;
  end(answer: string): void;
  fail(error: unknown): void;
}

/** Lanes whose threads answer when the test says so; an aborted task fails as that of a thread that was ended. */
function lanesOf(count: number, limits: Partial<LaneLimits> = {}) {
  const running: Running[] = [];
  const threads = Array.from({ length: count }, (_, lane) => ({
    run: <Answer>(task: string, options: { signal?: AbortSignal } = {}) =>
      new Promise<Answer>((resolve, reject) => {
        const gone = (): void => void running.splice(running.indexOf(one), 1);
        const one: Running = {
          ...{ lane, task, signal: options.signal! },
          end: (answer) => (gone(), resolve(answer as Answer)),
          fail: (error) => (gone(), reject(error as Error)),
        };
        running.push(one);
        options.signal?.addEventListener('abort', () => one.fail(new Error('aborted')));
      }),
    close: () => Promise.resolve(),
  }));
  const lanes = new Lanes<string>(threads, { longest: 1_000, patience: 50, grace: 200, ...limits });
  const tasks = (): string[] => running.map(({ task, lane }) => `${task} in ${lane}`).sort();
  const of = (task: string): Running => running.find((one) => one.task === task)!;
  return { lanes, tasks, of };
}
const settle = () => vi.advanceTimersByTimeAsync(0);

describe('lanes of threads', () => {
  it('answer questions about a place where it was answered about before', async () => {
    vi.useFakeTimers();
    const { lanes, tasks, of } = lanesOf(3);
    const first = lanes.run('a1', { place: 'a', person: 'x' });
    void lanes.run('b1', { place: 'b', person: 'y' });
    expect(tasks()).toEqual(['a1 in 0', 'b1 in 1']);
    of('b1').end('');
    of('a1').end('answer');
    expect(await first).toBe('answer');
    void lanes.run('b2', { place: 'b', person: 'x' });
    void lanes.run('a2', { place: 'a', person: 'y' });
    expect(tasks()).toEqual(['a2 in 0', 'b2 in 1']);
  });

  it('let a free one take what has waited for a moment', async () => {
    vi.useFakeTimers();
    const { lanes, tasks } = lanesOf(2);
    void lanes.run('a1', { place: 'a', person: 'x' });
    void lanes.run('a2', { place: 'a', person: 'y' });
    expect(tasks()).toEqual(['a1 in 0']);
    await vi.advanceTimersByTimeAsync(49);
    expect(tasks()).toEqual(['a1 in 0']);
    await vi.advanceTimersByTimeAsync(1);
    expect(tasks()).toEqual(['a1 in 0', 'a2 in 1']);
  });

  it('are never all one person’s', async () => {
    vi.useFakeTimers();
    const { lanes, tasks, of } = lanesOf(3);
    for (const place of ['a', 'b', 'c', 'd']) void lanes.run(place, { place, person: 'x' });
    expect(tasks()).toEqual(['a in 0', 'b in 1']);
    void lanes.run('other', { place: 'e', person: 'y' });
    expect(tasks()).toEqual(['a in 0', 'b in 1', 'other in 2']);
    of('other').end('');
    await settle();
    expect(tasks()).toEqual(['a in 0', 'b in 1']);
    of('a').end('');
    await settle();
    expect(tasks()).toEqual(['b in 1', 'c in 0']);
  });

  it('end what takes too long, with its reason, and go on', async () => {
    vi.useFakeTimers();
    const { lanes, tasks } = lanesOf(2);
    const long = lanes.run('long', { place: 'a', person: 'x' });
    const failure = expect(long).rejects.toMatchObject({ code: 'took-too-long', message: expect.stringContaining('1 seconds') as string });
    void lanes.run('next', { place: 'b', person: 'x' });
    expect(tasks()).toEqual(['long in 0']);
    await vi.advanceTimersByTimeAsync(1_000);
    await failure;
    expect(tasks()).toEqual(['next in 0']);
  });

  it('stay with no signal that many questions were asked with', async () => {
    vi.useFakeTimers();
    const { lanes, of } = lanesOf(1);
    const { signal } = new AbortController();
    for (let at = 0; at < 20; at++) {
      const asked = lanes.run(`a${at}`, { place: 'a', person: 'x', signal });
      if (at % 2 === 0) of(`a${at}`).end('answer');
      else of(`a${at}`).fail(new Error('refused'));
      await asked.catch(() => undefined);
    }
    await settle();
    expect(getEventListeners(signal, 'abort')).toEqual([]);
  });

  it('say so where a thread ended since its memory was full', async () => {
    vi.useFakeTimers();
    const { lanes, of } = lanesOf(2);
    const large = lanes.run('large', { place: 'a', person: 'x' });
    of('large').fail(Object.assign(new Error('full'), { code: 'ERR_WORKER_OUT_OF_MEMORY' }));
    await expect(large).rejects.toThrow(/more memory/);
    const wrong = lanes.run('wrong', { place: 'a', person: 'x' });
    of('wrong').fail(new TypeError('wrong'));
    await expect(wrong).rejects.toThrow(TypeError);
  });

  it('leave out what nobody waits for, and end it after a while where it is under way', async () => {
    vi.useFakeTimers();
    const { lanes, tasks } = lanesOf(2);
    const leaving = new AbortController();
    const under = lanes.run('under way', { place: 'a', person: 'x', signal: leaving.signal });
    const waits = lanes.run('waiting', { place: 'b', person: 'x', signal: leaving.signal });
    const failures = [expect(under).rejects.toThrow(ApiError), expect(waits).rejects.toThrow(ApiError)];
    await vi.advanceTimersByTimeAsync(150);
    leaving.abort();
    await settle();
    expect(tasks()).toEqual(['under way in 0']);
    await vi.advanceTimersByTimeAsync(49);
    expect(tasks()).toEqual(['under way in 0']);
    await vi.advanceTimersByTimeAsync(1);
    expect(tasks()).toEqual([]);
    await Promise.all(failures);
    await expect(lanes.run('late', { place: 'a', person: 'x', signal: leaving.signal })).rejects.toThrow(ApiError);
    expect(tasks()).toEqual([]);
  });
});
