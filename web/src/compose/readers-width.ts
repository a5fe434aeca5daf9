import { useElementSize, useWindowSize } from '@vueuse/core';
import { computed, type ComputedRef, type CSSProperties, type Ref } from 'vue';
import { provideNeededWidth } from '../report/needed-width.ts';
import { useComposeView } from './compose-view.ts';

/** What stands beside a page that is read, in pixels: the rail, and the room left and right of the page. */
const BESIDE_PAGE = 60 + 30 + 26;
/** Between exhibits beside each other. */
const GAP = 22;
const COLUMNS = 12;
/** As small as it has to be beside both panels in a window of 1,280 pixels. Where these leave less room, they can be hidden. */
const LEAST_SCALE = 0.55;
/** What a title with its menus and notes takes, and the room right of a table in which it is scrolled; in pixels. */
const [TITLE_WIDTH, BESIDE_TABLE] = [760, 24];

/** The width that an exhibit of so many of the twelve columns has for readers, in a window of this width; both in pixels. */
export const readersWidth = (columns: number, windowWidth: number): number =>
  ((Math.max(0, windowWidth - BESIDE_PAGE) + GAP) * columns) / COLUMNS - GAP;

/** The width that an exhibit is laid out at, of the one that it has for readers and the one that it needs, where that is known. */
export const widthLaidOut = (readers: number, needed: number | null): number =>
  needed === null ? readers : Math.min(readers, Math.max(TITLE_WIDTH, needed + BESIDE_TABLE));

/** How much smaller something is shown that has the width of readers, so that it fits into a room; both in pixels. */
export const scaleToFit = (room: number, width: number): number =>
  room <= 0 || width <= 0 ? 1 : Math.max(LEAST_SCALE, Math.min(1, room / width));

/** Styles of a room, and of what is shown smaller in it. */
interface Scaled {
  room: CSSProperties;
  content: CSSProperties;
}

/**
 * Shows an exhibit smaller in the room that composing leaves of it, so that it looks as it does to readers: laid out as wide as
 * for them, or as it needs, and scaled, which pointers follow.
 */
export function useReadersScale(
  room: Ref<HTMLElement | null>,
  content: Ref<HTMLElement | null>,
  columns: () => number,
): ComputedRef<Scaled> {
  const { width: windowWidth } = useWindowSize({ includeScrollbar: false });
  const { width } = useElementSize(room);
  const { height } = useElementSize(content);
  const look = useComposeView();
  const needed = provideNeededWidth();
  return computed(() => {
    const scale = look.value.actualSize
      ? 1
      : scaleToFit(width.value, widthLaidOut(readersWidth(columns(), windowWidth.value), needed.value));
    if (scale === 1) return { room: {}, content: {} };
    return {
      // What is scaled keeps the room that it had before.
      room: height.value > 0 ? { height: `${Math.ceil(height.value * scale)}px` } : {},
      content: { width: `${100 / scale}%`, transform: `scale(${scale})`, transformOrigin: '0 0' },
    };
  });
}
