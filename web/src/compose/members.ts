import { membersResponseSchema } from '@bold-compass/core/api';
import type { Scope } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed, type Ref } from 'vue';
import { ask } from '../api/client.ts';
import { useCompose } from './context.ts';

/**
 * The members of a field that settings choose from, under a scope; nothing is asked while `field` is undefined. As a `tree`,
 * with what each stands under.
 */
export function useMembers(dataset: Ref<string>, field: Ref<string | undefined>, scope?: Ref<Scope>, tree = false) {
  const { report } = useCompose();
  const { data, error } = useQuery({
    queryKey: computed(() => ['members to choose', report.value.id, dataset.value, field.value, scope?.value ?? {}, tree]),
    queryFn: ({ signal }) => {
      const other = dataset.value === report.value.dataset ? {} : { dataset: dataset.value };
      const body = { field: field.value, scope: scope?.value ?? {}, draft: true, ...(tree ? { tree } : {}), ...other };
      return ask(membersResponseSchema, 'POST', `/reports/${report.value.id}/members`, body, signal);
    },
    enabled: computed(() => field.value !== undefined),
    staleTime: 60_000,
  });
  return { members: computed(() => data.value?.members), error };
}
