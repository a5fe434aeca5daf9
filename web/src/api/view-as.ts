import { useSessionStorage } from '@vueuse/core';
import { computed } from 'vue';

/** Whose view of the data is looked at, in this tab; nobody's but one's own as a rule. */
const viewed = useSessionStorage<{ id: string; name: string }>('view as', { id: '', name: '' });

/** The header that asks for someone else's view; empty as a rule. */
export const viewAsHeaders = (): Record<string, string> => (viewed.value.id === '' ? {} : { 'x-view-as': viewed.value.id });

export function useViewAs() {
  return {
    name: computed(() => viewed.value.name),
    begin: (id: string, name: string): void => void (viewed.value = { id, name }),
    end: (): void => void (viewed.value = { id: '', name: '' }),
  };
}
