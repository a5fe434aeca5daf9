import { signalsSchema, watchSchema, type Watch, type WatchRequest, type Watched } from '@bold-compass/core/api';
import { readPath, writtenPath } from '@bold-compass/core/crosstab';
import { sectionKey } from '@bold-compass/core/sections';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';
import { useReport } from './context.ts';

const KEY = ['signals'];

/** What the reader was told, and which figures they watch; asked for again while the page is open. */
export const useSignals = (options: { every?: number } = {}) =>
  useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => ask(signalsSchema, 'GET', '/signals', undefined, signal),
    refetchInterval: options.every,
    staleTime: 5_000,
  });

/** A figure as it is kept. */
const written = (watched: Watched): Watched =>
  'kpi' in watched ? watched : { ...watched, side: writtenPath(watched.side), top: writtenPath(watched.top) };

/** Watching figures of an open report. */
export function useWatching() {
  const queries = useQueryClient();
  const { report, asked, address } = useReport();
  const { data } = useSignals();
  const message = ref('');

  /** A figure of another section is another figure. */
  const isSameSection = (one: Watch, exhibit: string): boolean =>
    [sectionKey(), sectionKey(exhibit)].every((key) => JSON.stringify(one.query[key] ?? []) === JSON.stringify(query()[key] ?? []));
  const same = (one: Watch, exhibit: string, watched: Watched): boolean => {
    if (one.report !== report.value.id || one.exhibit !== exhibit || !isSameSection(one, exhibit)) return false;
    if ('kpi' in watched || 'kpi' in one.watched) return 'kpi' in watched && 'kpi' in one.watched && one.watched.kpi === watched.kpi;
    const place = ({ side, top, measure }: typeof watched): string => JSON.stringify([readPath(side), readPath(top), measure]);
    return place(one.watched) === place(watched);
  };
  const watchOf = computed(
    () => (exhibit: string, watched: Watched) => data.value?.watches.find((one) => same(one, exhibit, watched)) ?? null,
  );

  /** The address as it stands, which a signal leads back to. */
  function query(): WatchRequest['query'] {
    const parts = Object.entries(address.value).flatMap(([key, value]) => {
      const texts = (Array.isArray(value) ? value : [value]).filter((text): text is string => text !== null);
      return key === 'compose' ? [] : [[key, texts] as const];
    });
    return Object.fromEntries(parts);
  }
  async function toggle(exhibit: string, watched: Watched, label: string): Promise<void> {
    message.value = '';
    const known = watchOf.value(exhibit, watched);
    try {
      if (known) await ask(z.array(watchSchema), 'DELETE', `/watches/${known.id}`);
      else
        await ask(z.array(watchSchema), 'POST', '/watches', {
          ...{ report: report.value.id, exhibit, watched: written(watched), label: label.slice(0, 200), query: query() },
          ...asked.value,
        });
    } catch (error) {
      message.value = error instanceof ApiProblem ? error.message : 'This did not work. Try again.';
    }
    await queries.invalidateQueries({ queryKey: KEY });
  }
  return { watchOf, toggle, message };
}
