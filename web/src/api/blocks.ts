import { useQueryClient } from '@tanstack/vue-query';
import { onScopeDispose, ref, shallowRef, watch, type Ref, type WatchSource } from 'vue';
import { isPassing } from './client.ts';

/** Something long that is fetched in blocks as they come into view. */
interface Blocks<Block, Answer> {
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
  const pending = new Map<string, AbortController>();
  const drop = (id: string): void => {
    pending.get(id)?.abort();
    pending.delete(id);
  };

  async function fetchBlock(key: string, block: Block, signal: AbortSignal): Promise<void> {
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
        // The same question, dropped a moment ago, was still on its way out.
        if (error instanceof DOMException && error.name === 'AbortError') continue;
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
      for (const id of [...pending.keys()]) drop(id);
      current = key;
      waiting.value = true;
    }
    const wanted = read(blocks.wanted);
    const inView = new Set(wanted.map((block) => blocks.id(block)));
    // What was scrolled past before it came is not waited for.
    for (const id of [...pending.keys()].filter((one) => !inView.has(one))) drop(id);
    for (const block of wanted) {
      const id = blocks.id(block);
      if (blocks.has(key, block) || pending.has(id)) continue;
      const controller = new AbortController();
      pending.set(id, controller);
      void fetchBlock(key, block, controller.signal).finally(() => pending.get(id) === controller && pending.delete(id));
    }
  }
  // Asked in the click itself: by the time the page has drawn what changed around it, the answer is on its way.
  watch(blocks.key, () => update(), { flush: 'sync', immediate: true });
  watch(blocks.wanted, () => update());
  onScopeDispose(() => {
    current = '';
    for (const id of [...pending.keys()]) drop(id);
  });
  return { waiting, problem, retry: () => update(true) };
}
