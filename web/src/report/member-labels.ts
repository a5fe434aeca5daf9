import { scopeLabelsSchema, type ScopeLabels } from '@bold-compass/core/api';
import { findField, type Dataset, type Report, type Scope } from '@bold-compass/core/model';
import { useQuery } from '@tanstack/vue-query';
import { computed, type ComputedRef } from 'vue';
import { ask } from '../api/client.ts';

/** The part of a scope whose members are called otherwise than by their keys. */
export function labelledScope(dataset: Dataset, scope: Scope): Scope {
  const entries = Object.entries(scope).filter(([field, members]) => {
    const place = findField(dataset, field);
    return members.length > 0 && place?.kind === 'level' && place.level.labelColumn !== undefined;
  });
  return Object.fromEntries(entries);
}

/** The words for chosen members; asked for only where keys are not what members are called. */
export function useMemberLabels(
  report: ComputedRef<Report>,
  dataset: ComputedRef<Dataset>,
  scope: ComputedRef<Scope>,
  draft: ComputedRef<boolean>,
): ComputedRef<ScopeLabels> {
  const labelled = computed(() => labelledScope(dataset.value, scope.value));
  const { data } = useQuery({
    queryKey: computed(() => ['scope labels', report.value.id, labelled.value]),
    queryFn: ({ signal }) =>
      ask(scopeLabelsSchema, 'POST', `/reports/${report.value.id}/scope-labels`, { scope: labelled.value, draft: draft.value }, signal),
    enabled: computed(() => Object.keys(labelled.value).length > 0),
    placeholderData: (before) => before,
  });
  return computed(() => data.value ?? {});
}
