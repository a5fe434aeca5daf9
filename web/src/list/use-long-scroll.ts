import { useEventListener, useResizeObserver } from '@vueuse/core';
import { computed, ref, shallowRef, watch, type Ref } from 'vue';
import { linesInView, scrolledTo, START } from './long-scroll.ts';

/** Lines drawn beyond those in view, either way. */
const AROUND = 12;

/** The lines of a long list that are to be drawn while it is scrolled; `lineHeight` in pixels. */
export function useLongScroll(scroller: Ref<HTMLElement | null>, lines: Ref<number>, lineHeight: number) {
  const place = shallowRef(START);
  const viewport = ref(600);
  const follow = (): void => {
    if (scroller.value) place.value = scrolledTo(place.value, scroller.value.scrollTop, lines.value * lineHeight, viewport.value);
  };
  useEventListener(scroller, 'scroll', follow, { passive: true });
  useResizeObserver(scroller, ([{ contentRect }]) => (viewport.value = contentRect.height));
  watch([lines, viewport], follow, { flush: 'post' });
  return computed(() => linesInView(place.value, lines.value, lineHeight, viewport.value, AROUND));
}
