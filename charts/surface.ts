/** Where charts are drawn: what makes a canvas, in a browser or outside one. */
interface Surface {
  canvas(): HTMLCanvasElement;
  /** Whether pictures drawn on one canvas can be put down on another. */
  keepsPictures: boolean;
}

let surface: Surface = { canvas: () => document.createElement('canvas'), keepsPictures: true };

/** Draws on other canvases than a browser's. To be called before anything is drawn, once a process. */
export function drawOn(own: Surface): void {
  surface = own;
}

export const newCanvas = (): HTMLCanvasElement => surface.canvas();
export const keepsPictures = (): boolean => surface.keepsPictures;
