declare module '*.css';
declare module '@fontsource-variable/source-sans-3';
declare module '@fontsource-variable/source-serif-4';
declare module '@dragdroptouch/drag-drop-touch' {
  interface TouchDragOptions {
    /** Listens whatever the browser says of touch points. */
    forceListen?: boolean;
    /** Takes hold only of what a finger stays on. */
    isPressHoldMode?: boolean;
    pressHoldDelayMS?: number;
  }
  export function enableDragDropTouch(dragRoot?: Document | Element, dropRoot?: Document | Element, options?: TouchDragOptions): void;
}

/** A canvas whose drawing is an SVG document. */
declare module 'svgcanvas/dist/svgcanvas.esm.js' {
  export class Context {
    constructor(width: number, height: number);
    getSvg(): SVGSVGElement;
  }
}
