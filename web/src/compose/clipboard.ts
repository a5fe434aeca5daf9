import { exhibitSchema, type Exhibit } from '@bold-compass/core/model';
import { useOwnStorage } from '../shell/own-storage.ts';
import { computed } from 'vue';

/** What was copied last, kept over reports and reloads. `dataset` is the one it answers from. */
export function useClipboard() {
  const stored = useOwnStorage<string>('copied exhibit', '');
  const copied = computed((): { exhibit: Exhibit; dataset: string } | null => {
    try {
      const { exhibit, dataset } = JSON.parse(stored.value) as { exhibit: unknown; dataset: string };
      const parsed = exhibitSchema.safeParse(exhibit);
      return parsed.success ? { exhibit: parsed.data, dataset } : null;
    } catch {
      return null;
    }
  });
  return { copied, copy: (exhibit: Exhibit, dataset: string): void => void (stored.value = JSON.stringify({ exhibit, dataset })) };
}
