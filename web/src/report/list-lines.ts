import { listResponseSchema, type ListResponse, type ListRow } from '@bold-compass/core/api';
import { useQueryClient } from '@tanstack/vue-query';
import { onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue';
import { ask, isPassing } from '../api/client.ts';

/** Lines that one request brings while scrolling. */
const BLOCK = 100;

export interface ListQuestion {
  scope: Record<string, string[]>;
  draft: boolean;
  order: { field: string; direction: 'asc' | 'desc' }[];
}

/** Lines of a list as far as they have been fetched; what comes into view is fetched in blocks. */
export function useListLines(
  path: Ref<string>,
  version: Ref<string>,
  question: Ref<ListQuestion>,
  view: Ref<{ first: number; count: number }>,
) {
  const queries = useQueryClient();
  const answer = shallowRef<Omit<ListResponse, 'rows'> | null>(null);
  const lines = shallowRef<Map<number, ListRow>>(new Map());
  const waiting = ref(true);
  const problem = shallowRef<unknown>(null);
  let current = '';
  let controller = new AbortController();
  const pending = new Set<number>();

  async function fetchBlock(key: string, offset: number, limit: number): Promise<void> {
    const { signal } = controller;
    for (;;) {
      try {
        const found = await queries.fetchQuery({
          queryKey: ['list', key, offset, limit],
          queryFn: () => ask(listResponseSchema, 'POST', path.value, { ...question.value, offset, limit }, signal),
          staleTime: 60_000,
          retry: false,
        });
        if (key !== current) return;
        const { rows, ...rest } = found;
        const next = waiting.value ? new Map<number, ListRow>() : new Map(lines.value);
        rows.forEach((row, index) => next.set(offset + index, row));
        [lines.value, answer.value, problem.value, waiting.value] = [next, rest, null, false];
        return;
      } catch (error) {
        if (key !== current || signal.aborted) return;
        problem.value = error;
        if (!isPassing(error)) {
          waiting.value = false;
          return;
        }
        await new Promise((resolve) => setTimeout(resolve, 1_500));
        if (key !== current || signal.aborted) return;
      }
    }
  }

  function update(again = false): void {
    const key = JSON.stringify([path.value, version.value, question.value]);
    if (key !== current || again) {
      controller.abort();
      controller = new AbortController();
      current = key;
      waiting.value = true;
      pending.clear();
    }
    const { first, count } = view.value;
    for (let offset = Math.floor(first / BLOCK) * BLOCK; offset < first + count; offset += BLOCK) {
      if (pending.has(offset) || (!waiting.value && lines.value.has(offset))) continue;
      pending.add(offset);
      void fetchBlock(key, offset, BLOCK).finally(() => key === current && pending.delete(offset));
    }
  }
  watch([path, version, question], () => update(), { flush: 'sync', immediate: true });
  watch(view, () => update());
  onScopeDispose(() => {
    current = '';
    controller.abort();
  });
  return { answer, lines, waiting, problem, retry: () => update(true) };
}
