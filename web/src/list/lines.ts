import { listResponseSchema, type ListResponse, type ListRow } from '@bold-compass/core/api';
import type { Filter } from '@bold-compass/core/model';
import { computed, shallowRef, type Ref } from 'vue';
import { useBlocks } from '../api/blocks.ts';
import { ask } from '../api/client.ts';

/** Lines that one request brings while scrolling. */
const BLOCK = 100;
/** Lines kept at most, either side of the newest: those far away are fetched again when they come into view. */
const KEPT = 3_000;

interface ListQuestion {
  scope: Record<string, string[]>;
  where: Filter | null;
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
  const answer = shallowRef<Omit<ListResponse, 'rows'> | null>(null);
  const lines = shallowRef<Map<number, ListRow>>(new Map());
  let answered = '';
  const fetched = useBlocks<number, ListResponse>('list', {
    key: computed(() => JSON.stringify([path.value, version.value, question.value])),
    wanted: () => {
      const { first, count } = view.value;
      const from = Math.floor(first / BLOCK);
      return Array.from({ length: Math.ceil((first + count) / BLOCK) - from }, (_, index) => (from + index) * BLOCK);
    },
    id: String,
    has: (key, offset) => answered === key && lines.value.has(offset),
    ask: (offset, signal) => ask(listResponseSchema, 'POST', path.value, { ...question.value, offset, limit: BLOCK }, signal),
    take(key, offset, { rows, ...rest }) {
      const near = [...(answered === key ? lines.value : [])].filter(([line]) => Math.abs(line - offset) < KEPT);
      const next = new Map(near);
      rows.forEach((row, index) => next.set(offset + index, row));
      answered = key;
      lines.value = next;
      answer.value = rest;
    },
  });
  return { answer, lines, ...fetched };
}
