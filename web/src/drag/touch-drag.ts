let isEnabled = false;

/**
 * Lets fingers drag what a mouse drags: browsers do not tell pages of dragging by touch. A finger that stays takes hold, one
 * that moves at once scrolls as ever. Fetched only where there is a screen to touch.
 */
export async function dragByTouch(): Promise<void> {
  if (isEnabled || !window.matchMedia('(any-pointer: coarse)').matches) return;
  isEnabled = true;
  const { enableDragDropTouch } = await import('@dragdroptouch/drag-drop-touch');
  enableDragDropTouch(document, document, { forceListen: true, isPressHoldMode: true, pressHoldDelayMS: 300 });
}
