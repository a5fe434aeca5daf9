import { useQueryClient } from '@tanstack/vue-query';
import { onScopeDispose, ref, shallowRef, watch, type Ref, type WatchSource } from 'vue';
import { isPassing } from './client.ts';

/** Something long that is fetched in blocks as they come into view. */
export interface Blocks<Block, Answer> {
  /** What its answers hang on: with another one, everything is asked anew. */
  key: WatchSource<string>;
  /** The blocks in view. */
  wanted: WatchSource<Block[]>;
  /** Tells the blocks of one key apart. */
  id(block: Block): string;
  /** Whether a block of the key is here already. */
  has(key: string, block: Block): boolean;
  ask(block: Block, signal: AbortSignal): Promise<Answer>;
  take(key: string, block: Block, answer: Answer): void;
}

/** How long an answer is taken for what is there now, in milliseconds. */
const FRESH = 60_000;
/** Before what passes by itself is asked again, in milliseconds. */
const PAUSE = 1_500;

/**
 * Fetches the blocks that come into view. While a new question is answered what is there stays; while the server cannot
 * be reached it stays too, and is asked for again.
 */
export function useBlocks<Block, Answer>(
  name: string,
  blocks: Blocks<Block, Answer>,
): {
  waiting: Ref<boolean>;
  problem: Ref<unknown>;
  retry(): void;
} {
  const queries = useQueryClient();
  const waiting = ref(true);
  const problem = shallowRef<unknown>(null);
  let current = '';
  let controller = new AbortController();
  const pending = new Set<string>();

  async function fetchBlock(key: string, block: Block): Promise<void> {
    const { signal } = controller;
    for (;;) {
      try {
        const answer = await queries.fetchQuery({
          queryKey: [name, key, blocks.id(block)],
          queryFn: () => blocks.ask(block, signal),
          ...{ staleTime: FRESH, gcTime: FRESH, retry: false },
        });
        if (key !== current) return;
        blocks.take(key, block, answer);
        problem.value = null;
        waiting.value = false;
        return;
      } catch (error) {
        if (key !== current || signal.aborted) return;
        problem.value = error;
        if (!isPassing(error)) {
          waiting.value = false;
          return;
        }
        await new Promise((resolve) => setTimeout(resolve, PAUSE));
        if (key !== current || signal.aborted) return;
      }
    }
  }

  const read = <Value>(source: WatchSource<Value>): Value => (typeof source === 'function' ? source() : source.value);
  function update(again = false): void {
    const key = read(blocks.key);
    if (key !== current || again) {
      controller.abort();
      controller = new AbortController();
      current = key;
      waiting.value = true;
      pending.clear();
    }
    for (const block of read(blocks.wanted)) {
      const id = blocks.id(block);
      if (blocks.has(key, block) || pending.has(id)) continue;
      pending.add(id);
      void fetchBlock(key, block).finally(() => key === current && pending.delete(id));
    }
  }
  // Asked in the click itself: by the time the page has drawn what changed around it, the answer is on its way.
  watch(blocks.key, () => update(), { flush: 'sync', immediate: true });
  watch(blocks.wanted, () => update());
  onScopeDispose(() => {
    current = '';
    controller.abort();
  });
  return { waiting, problem, retry: () => update(true) };
}
