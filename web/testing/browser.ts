import { enableAutoUnmount } from '@vue/test-utils';
import { afterEach } from 'vitest';

/** What the framework asks of a browser and a test environment lacks. */
class NoObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
  takeRecords(): never[] {
    return [];
  }
}
globalThis.ResizeObserver ??= NoObserver as unknown as typeof ResizeObserver;
globalThis.IntersectionObserver ??= NoObserver as unknown as typeof IntersectionObserver;
window.visualViewport ??= Object.assign(new EventTarget(), {
  width: 1280,
  height: 800,
  scale: 1,
  offsetLeft: 0,
  offsetTop: 0,
}) as VisualViewport;
// Nothing is laid out, so nothing is under any point.
document.elementsFromPoint ??= () => [];
window.matchMedia ??= (media) => Object.assign(new EventTarget(), { media, matches: false }) as MediaQueryList;

enableAutoUnmount(afterEach);
