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
    font: string;
    textAlign: CanvasTextAlign;
    textBaseline: CanvasTextBaseline;
    getSvg(): SVGSVGElement;
    stroke(path?: unknown): void;
    /** What its own texts are made with. */
    __currentElement: SVGElement;
    __applyText(text: string, x: number, y: number, action: 'fill' | 'stroke'): void;
    __createElement(name: string, attributes: Record<string, string | number>, resetsFill: boolean): SVGElement;
    __applyTransformation(element: SVGElement): void;
    __applyStyleToCurrentElement(action: 'fill' | 'stroke'): void;
    __closestGroupOrSvg(): SVGElement;
  }
}
