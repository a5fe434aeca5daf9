import { exportSchema, type Export } from '@bold-compass/core/exports';
import { useQuery, useQueryClient } from '@tanstack/vue-query';
import { computed, ref, type ComputedRef, type Ref } from 'vue';
import { z } from 'zod';
import { ApiProblem, ask } from '../api/client.ts';

const listSchema = z.array(exportSchema);
const KEY = ['exports'];
/** How often exports under way are asked about, in milliseconds. */
const OFTEN = 500;

export const isOpen = ({ state }: Pick<Export, 'state'>): boolean => state === 'queued' || state === 'active';

/** The exports of who is signed in, asked about again and again while any is under way, and what can be done with them. */
export function useYourExports(isShown: Ref<boolean>): {
  exports: ComputedRef<Export[]>;
  problem: Ref<string>;
  start(request: object): Promise<void>;
  cancel(id: string): Promise<void>;
  remove(id: string): Promise<void>;
} {
  const queries = useQueryClient();
  const problem = ref('');
  const { data } = useQuery({
    queryKey: KEY,
    queryFn: ({ signal }) => ask(listSchema, 'GET', '/exports', undefined, signal),
    enabled: isShown,
    refetchInterval: ({ state }) => (state.data?.some(isOpen) ? OFTEN : false),
  });
  async function attempt(work: () => Promise<Export[] | null>): Promise<void> {
    problem.value = '';
    try {
      const list = await work();
      if (list) queries.setQueryData(KEY, list);
      else await queries.invalidateQueries({ queryKey: KEY });
    } catch (failure) {
      problem.value = failure instanceof ApiProblem ? failure.message : 'This did not work. Try again.';
    }
  }
  return {
    exports: computed(() => data.value ?? []),
    problem,
    start: (request) =>
      attempt(async () => {
        await ask(z.object({ id: z.string() }), 'POST', '/exports', request);
        return null;
      }),
    cancel: (id) => attempt(() => ask(listSchema, 'POST', `/exports/${id}/cancel`, {})),
    remove: (id) => attempt(() => ask(listSchema, 'DELETE', `/exports/${id}`)),
  };
}
