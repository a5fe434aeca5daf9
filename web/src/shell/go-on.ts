import { onScopeDispose } from 'vue';
import { useRouter, type RouteLocationRaw } from 'vue-router';

/**
 * Goes on to another page once something that was asked is there. Whoever left the page meanwhile stays where they went:
 * what a page asked ends with it.
 */
export function useGoOn(): (to: RouteLocationRaw) => Promise<void> {
  const router = useRouter();
  let isHere = true;
  onScopeDispose(() => (isHere = false));
  return async (to) => {
    if (isHere) await router.push(to);
  };
}

/** Aborted when the page, or the part of it, that asks is left. */
export function useLeaving(): AbortSignal {
  const leaving = new AbortController();
  onScopeDispose(() => leaving.abort());
  return leaving.signal;
}
