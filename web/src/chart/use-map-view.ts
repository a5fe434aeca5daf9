import { useEventListener } from '@vueuse/core';
import { shallowRef, type Ref } from 'vue';
import type { Chart, MapView } from '@bold-compass/charts';

const FITTED: MapView = { zoom: 1, centre: null };
/** How much nearer a step comes, and how near it gets. */
const [STEP, NEAREST] = [1.6, 60];
/** A press that moves no further than this is a click, in pixels. */
const STILL = 4;

/** A projection as far as a view needs it. */
interface Projected {
  projection?: { (at: [number, number]): [number, number] | null; invert?(at: [number, number]): [number, number] | null };
}

/** How near a map is, and around which place: by buttons and keys, by dragging, and by the wheel with Ctrl. */
export function useMapView(canvas: Ref<HTMLCanvasElement | null>, chart: Ref<Chart | null>, isMap: () => boolean) {
  const view = shallowRef<MapView>(FITTED);
  const projected = (): Projected['projection'] => (chart.value?.scales.projection as unknown as Projected | undefined)?.projection;
  /** The middle of what is shown, moved by some pixels. */
  function placeAt(byX: number, byY: number): [number, number] | null {
    const area = chart.value?.chartArea;
    return area ? (projected()?.invert?.([(area.left + area.right) / 2 + byX, (area.top + area.bottom) / 2 + byY]) ?? null) : null;
  }
  function zoom(by: number, around: readonly [number, number] | null = view.value.centre): void {
    const next = Math.min(NEAREST, Math.max(1, view.value.zoom * by));
    view.value = next === 1 ? FITTED : { zoom: next, centre: around ?? placeAt(0, 0) };
  }
  const moveBy = (x: number, y: number): void => {
    const centre = placeAt(x, y);
    if (centre && view.value.zoom > 1) view.value = { ...view.value, centre };
  };

  let from: { x: number; y: number } | null = null;
  let wasDragged = false;
  useEventListener(canvas, 'pointerdown', (event) => {
    wasDragged = false;
    if (isMap() && event.isPrimary && view.value.zoom > 1) from = { x: event.clientX, y: event.clientY };
  });
  useEventListener(window, 'pointermove', (event) => {
    if (!from) return;
    const [x, y] = [from.x - event.clientX, from.y - event.clientY];
    if (!wasDragged && Math.hypot(x, y) <= STILL) return;
    wasDragged = true;
    from = { x: event.clientX, y: event.clientY };
    moveBy(x, y);
  });
  useEventListener(window, ['pointerup', 'pointercancel'], () => (from = null));
  useEventListener(
    canvas,
    'wheel',
    (event) => {
      if (!isMap() || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      zoom(event.deltaY < 0 ? STEP : 1 / STEP);
    },
    { passive: false },
  );
  return {
    view,
    zoomIn: () => zoom(STEP),
    zoomOut: () => zoom(1 / STEP),
    fit: () => void (view.value = FITTED),
    /** Comes nearer to a place. */
    zoomTo: (place: readonly [number, number]) => zoom(STEP * STEP, place),
    /** Whether the press that has just ended moved the map. */
    wasDragged: () => wasDragged,
  };
}
