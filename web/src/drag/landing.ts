/** Before which of some things in a row, or one below the other, a dragged one would land: their number for after the last. */
export function landingAt({ clientX, clientY }: DragEvent, things: readonly HTMLElement[], vertical: boolean): number {
  const at = things.findIndex((thing) => {
    const { left, top, width, height } = thing.getBoundingClientRect();
    return vertical ? clientY < top + height / 2 : clientX < left + width / 2;
  });
  return at < 0 ? things.length : at;
}

/** A list with one of its items at another place of it. */
export const moved = <Item>(items: readonly Item[], from: number, to: number): Item[] =>
  items.toSpliced(from, 1).toSpliced(to, 0, items[from]);

/** A list with one of its items where it landed. */
export const movedTo = <Item>(items: readonly Item[], from: number, landing: number): Item[] =>
  moved(items, from, landing > from ? landing - 1 : landing);

/** A list with one of its items a place further up or down. */
export const movedBy = <Item>(items: readonly Item[], index: number, by: -1 | 1): Item[] => moved(items, index, index + by);
