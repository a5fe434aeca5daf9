import { ref } from 'vue';

const [LEAST, MOST, STEP] = [30, 800, 8];
const within = (width: number): number => Math.round(Math.max(LEAST, Math.min(MOST, width)));

/**
 * Widths, in pixels, are drawn at the right edge of a heading, or set with the arrow keys there. `set` is told the width
 * that was drawn of `what`.
 */
export function useWidthDrawing(set: (what: string, width: number) => void) {
  /** The width that is being drawn. */
  const drawing = ref<Record<string, number>>({});
  return {
    drawing,
    begin(what: string, width: number, event: PointerEvent): void {
      const handle = event.currentTarget as HTMLElement;
      handle.setPointerCapture(event.pointerId);
      const start = event.clientX;
      // While composing, what is drawn on may be made smaller than it is.
      const scale = handle.getBoundingClientRect().width / handle.offsetWidth || 1;
      const at = (move: PointerEvent): number => within(width + (move.clientX - start) / scale);
      const draw = (move: PointerEvent): void => void (drawing.value = { [what]: at(move) });
      const end = (move: PointerEvent): void => {
        handle.removeEventListener('pointermove', draw);
        drawing.value = {};
        if (move.clientX !== start) set(what, at(move));
      };
      handle.addEventListener('pointermove', draw);
      handle.addEventListener('pointerup', end, { once: true });
    },
    byKey(what: string, width: number, event: KeyboardEvent): void {
      const step = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
      if (step === undefined) return;
      event.preventDefault();
      event.stopPropagation();
      set(what, within(width + step));
    },
  };
}
