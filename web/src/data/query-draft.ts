import type { QueryParameter } from '@bold-compass/core/model';
import { parameterNames } from '@bold-compass/core/written';
import { useOwnStorage } from '../shell/own-storage.ts';
import { computed, type Ref } from 'vue';

/** A query as far as it is written. */
interface QueryDraft {
  text: string;
  label: string;
  parameters: QueryParameter[];
}
const EMPTY: QueryDraft = { text: '', label: '', parameters: [] };

/** What is written stays over a reload, for each place: a connection, or a source whose query is changed. */
export function useQueryDraft(place: Ref<string>) {
  const drafts = useOwnStorage<Record<string, QueryDraft>>('written queries', {});
  const draft = computed(() => drafts.value[place.value] ?? EMPTY);
  const change = (part: Partial<QueryDraft>): void => void (drafts.value = { ...drafts.value, [place.value]: { ...draft.value, ...part } });
  const text = computed({
    get: () => draft.value.text,
    // A parameter is there as soon as it is written; what was said about it before stays.
    set: (value) => {
      const before = draft.value.parameters;
      const parameters = parameterNames(value).map(
        (name): QueryParameter => before.find((parameter) => parameter.name === name) ?? { name, type: 'any', value: '' },
      );
      change({ text: value, parameters });
    },
  });
  const label = computed({ get: () => draft.value.label, set: (value) => change({ label: value }) });
  const isBegun = (): boolean => place.value in drafts.value;
  const forget = (): void => void (drafts.value = Object.fromEntries(Object.entries(drafts.value).filter(([of]) => of !== place.value)));
  return { draft, change, text, label, isBegun, forget };
}
