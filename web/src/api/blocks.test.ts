import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query';
import { mount } from '@vue/test-utils';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { defineComponent, h, nextTick, ref } from 'vue';
import { useBlocks } from './blocks.ts';
import { ApiProblem } from './client.ts';

/** Something of ten blocks that answers when it is told to. */
function long() {
  const key = ref('a');
  const wanted = ref([0]);
  const asked: { block: number; key: string; signal: AbortSignal; answer(text: string): void; fail(problem: unknown): void }[] = [];
  const taken = new Map<string, Map<number, string>>();
  let blocks!: ReturnType<typeof useBlocks<number, string>>;
  const Host = defineComponent({
    setup() {
      blocks = useBlocks<number, string>('long', {
        key,
        wanted,
        id: String,
        has: (own, block) => taken.get(own)?.has(block) ?? false,
        ask: (block, signal) =>
          new Promise((answer, fail) => {
            const own = { block, key: key.value, signal, answer, fail };
            signal.addEventListener('abort', () => fail(new DOMException('dropped', 'AbortError')));
            asked.push(own);
          }),
        take: (own, block, answer) => void taken.set(own, (taken.get(own) ?? new Map<number, string>()).set(block, answer)),
      });
      return () => h('div');
    },
  });
  const client = new QueryClient();
  const host = mount(Host, { global: { plugins: [[VueQueryPlugin, { queryClient: client }]] } });
  const settle = async (): Promise<void> => {
    for (let turn = 0; turn < 6; turn++) await nextTick();
    await vi.advanceTimersByTimeAsync(0);
  };
  return { key, wanted, asked, taken, host, settle, state: () => blocks };
}
const problem = (code: string): ApiProblem => new ApiProblem({ type: 'about:blank', title: '', status: 500, code, detail: code });

describe('something long that is fetched in blocks', () => {
  beforeEach(() => void vi.useFakeTimers());
  afterEach(() => void vi.useRealTimers());

  it('asks for what comes into view, each once, and waits until the first is there', async () => {
    const { wanted, asked, taken, settle, state } = long();
    expect(state().waiting.value).toBe(true);
    asked[0].answer('zero');
    await settle();
    expect(state().waiting.value).toBe(false);
    wanted.value = [0, 1];
    await settle();
    wanted.value = [0, 1];
    await settle();
    expect(asked.map(({ block }) => block)).toEqual([0, 1]);
    asked[1].answer('one');
    await settle();
    expect([...taken.get('a')!]).toEqual([
      [0, 'zero'],
      [1, 'one'],
    ]);
  });

  it('drops what was scrolled past before it came', async () => {
    const { wanted, asked, settle } = long();
    await settle();
    wanted.value = [5];
    await settle();
    expect(asked[0].signal.aborted).toBe(true);
    expect(asked.map(({ block }) => block)).toEqual([0, 5]);
    expect(asked[1].signal.aborted).toBe(false);
  });

  it('keeps what is there while another question is answered, and takes no answer of the old one', async () => {
    const { key, asked, taken, settle, state } = long();
    asked[0].answer('old');
    await settle();
    key.value = 'b';
    // Asked in the same moment, not after the page was drawn.
    expect(asked).toHaveLength(2);
    expect(state().waiting.value).toBe(true);
    expect(taken.get('a')!.get(0)).toBe('old');
    key.value = 'c';
    asked[1].answer('too late');
    await settle();
    expect(taken.has('b')).toBe(false);
    asked[2].answer('new');
    await settle();
    expect(taken.get('c')!.get(0)).toBe('new');
  });

  it('asks again while there is no connection, and keeps saying so until there is', async () => {
    const { asked, taken, settle, state } = long();
    asked[0].fail(problem('unreachable'));
    await settle();
    expect([state().problem.value, state().waiting.value]).toEqual([expect.any(ApiProblem), true]);
    await vi.advanceTimersByTimeAsync(1_600);
    expect(asked).toHaveLength(2);
    asked[1].answer('there');
    await settle();
    expect([state().problem.value, state().waiting.value, taken.get('a')!.get(0)]).toEqual([null, false, 'there']);
  });

  it('tells a refusal once, and asks again when a person does', async () => {
    const { asked, settle, state } = long();
    asked[0].fail(problem('scope-unknown'));
    await settle();
    await vi.advanceTimersByTimeAsync(5_000);
    expect(asked).toHaveLength(1);
    expect([(state().problem.value as ApiProblem).code, state().waiting.value]).toEqual(['scope-unknown', false]);
    state().retry();
    await settle();
    expect(asked).toHaveLength(2);
  });

  it('asks nothing more once its page is left', async () => {
    const { asked, host, settle } = long();
    host.unmount();
    expect(asked[0].signal.aborted).toBe(true);
    await settle();
    await vi.advanceTimersByTimeAsync(5_000);
    expect(asked).toHaveLength(1);
  });
});
