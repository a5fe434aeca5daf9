/**
 * The height up to which an element is laid out as it is, in CSS pixels. Engines end somewhere above 16 million device
 * pixels (from memory: 17.9 million in Firefox, 33.5 million in Chromium), which screens of double density reach at half.
 */
export const MOST_HEIGHT = 8_000_000;

/** Where a list of equal lines is scrolled to: `scrollTop` as the browser counts, `top` in the list itself, in pixels. */
interface ScrollPlace {
  scrollTop: number;
  top: number;
}

export const START: ScrollPlace = { scrollTop: 0, top: 0 };

/**
 * Where a list stands after the browser scrolled to `scrollTop`. A list higher than browsers can lay out is moved pixel
 * by pixel by small steps, and in proportion by long ones, such as those of a scroll bar.
 */
export function scrolledTo(before: ScrollPlace, scrollTop: number, listHeight: number, viewport: number): ScrollPlace {
  const height = Math.min(listHeight, MOST_HEIGHT);
  const [most, mostTop] = [Math.max(0, height - viewport), Math.max(0, listHeight - viewport)];
  const at = Math.max(0, Math.min(most, scrollTop));
  if (listHeight <= MOST_HEIGHT) return { scrollTop: at, top: at };
  const step = at - before.scrollTop;
  const isEdge = at === 0 || at === most;
  const top = isEdge || Math.abs(step) > viewport ? (at / most) * mostTop : before.top + step;
  return { scrollTop: at, top: Math.max(0, Math.min(mostTop, top)) };
}

/** The lines in view and some around them, and the room that is kept free before and after them, in pixels. */
export function linesInView(
  place: ScrollPlace,
  lines: number,
  lineHeight: number,
  viewport: number,
  around: number,
): { first: number; count: number; before: number; after: number } {
  const first = Math.max(0, Math.min(lines, Math.floor(place.top / lineHeight) - around));
  const end = Math.min(lines, Math.ceil((place.top + viewport) / lineHeight) + around);
  const before = Math.max(0, first * lineHeight - (place.top - place.scrollTop));
  const height = Math.min(lines * lineHeight, MOST_HEIGHT);
  return { first, count: end - first, before, after: Math.max(0, height - before - (end - first) * lineHeight) };
}
