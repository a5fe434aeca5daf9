import { useElementSize, useWindowSize } from '@vueuse/core';
import { computed, type ComputedRef, type Ref } from 'vue';
import { useComposeView } from './compose-view.ts';

/** What stands beside a page that is read, in pixels: the rail, and the room left and right of the page. */
const BESIDE_PAGE = 60 + 30 + 26;
/** Between exhibits beside each other. */
const GAP = 22;
const COLUMNS = 12;
/** Smaller is hard to read: where panels leave less room than that, they can be hidden. */
const LEAST_SCALE = 0.7;

/** The width that an exhibit of so many of the twelve columns has for readers, in a window of this width; both in pixels. */
export const readersWidth = (columns: number, windowWidth: number): number =>
  ((Math.max(0, windowWidth - BESIDE_PAGE) + GAP) * columns) / COLUMNS - GAP;

/** How much smaller something is shown that has the width of readers, so that it fits into a room; both in pixels. */
export const scaleToFit = (room: number, width: number): number =>
  room <= 0 || width <= 0 ? 1 : Math.max(LEAST_SCALE, Math.min(1, room / width));

/** How much smaller an exhibit is shown in the room that composing leaves of it, so that it looks as it does to readers. */
export function useReadersScale(room: Ref<HTMLElement | null>, columns: () => number): ComputedRef<number> {
  const { width: windowWidth } = useWindowSize({ includeScrollbar: false });
  const { width } = useElementSize(room);
  const look = useComposeView();
  return computed(() => (look.value.actualSize ? 1 : scaleToFit(width.value, readersWidth(columns(), windowWidth.value))));
}
