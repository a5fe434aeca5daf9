import { useIsFetching } from '@tanstack/vue-query';
import { refDebounced } from '@vueuse/core';
import { computed, onScopeDispose, ref, shallowRef, watch, type Ref } from 'vue';

/** Who waits for a turn, first come first. */
const waiting = shallowRef<symbol[]>([]);
/** How long nothing must have been asked for, in milliseconds. */
const QUIET = 80;

/**
 * A turn to do what can wait: one at a time, and only while nothing else is being fetched, so that what a person asked for
 * never stands behind it. `wanted` is when a turn is first asked for; the result stays true from its turn on.
 */
export function useTurn(wanted: Ref<boolean>): Ref<boolean> {
  const own = Symbol('turn');
  const has = ref(false);
  const fetching = useIsFetching();
  const quiet = refDebounced(
    computed(() => fetching.value === 0),
    QUIET,
  );
  const leave = (): void => void (waiting.value = waiting.value.filter((one) => one !== own));
  watch(wanted, (now) => now && !has.value && (waiting.value = [...waiting.value, own]));
  watch([waiting, quiet, fetching], () => {
    if (!quiet.value || fetching.value > 0 || waiting.value[0] !== own) return;
    has.value = true;
    // The next one waits until what this one asks for is there.
    setTimeout(leave, QUIET);
  });
  onScopeDispose(leave);
  return has;
}
