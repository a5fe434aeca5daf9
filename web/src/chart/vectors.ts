import { CHART_FONT } from '@bold-compass/charts';
import type { Chart } from 'chart.js';
import { Context } from 'svgcanvas/dist/svgcanvas.esm.js';

/** A path that can be drawn again: those of the browser keep to themselves what they are made of. */
class RecordedPath {
  private readonly steps: ((context: CanvasRenderingContext2D) => void)[] = [];
  private add(step: (context: CanvasRenderingContext2D) => void): void {
    this.steps.push(step);
  }
  moveTo(x: number, y: number): void {
    this.add((context) => context.moveTo(x, y));
  }
  lineTo(x: number, y: number): void {
    this.add((context) => context.lineTo(x, y));
  }
  bezierCurveTo(...points: Parameters<CanvasPath['bezierCurveTo']>): void {
    this.add((context) => context.bezierCurveTo(...points));
  }
  closePath(): void {
    this.add((context) => context.closePath());
  }
  drawOn(context: CanvasRenderingContext2D): void {
    context.beginPath();
    for (const step of this.steps) step(context);
  }
}

const ANCHORS: Partial<Record<CanvasTextAlign, string>> = { center: 'middle', right: 'end', end: 'end' };
const BASELINES: Partial<Record<CanvasTextBaseline, string>> = {
  middle: 'central',
  top: 'hanging',
  hanging: 'hanging',
  bottom: 'text-after-edge',
};

/** The library's canvas, with texts that ask for no style of a page, which its policy refuses, and with paths that are drawn again. */
class VectorContext extends Context {
  private readonly probe = document.createElement('span');

  override __applyText(text: string, x: number, y: number, action: 'fill' | 'stroke'): void {
    const { style } = this.probe;
    // Told from what was drawn last.
    const parent = this.__closestGroupOrSvg();
    style.font = this.font;
    const element = this.__createElement(
      'text',
      {
        ...{ 'font-size': style.fontSize, 'font-weight': style.fontWeight, 'font-style': style.fontStyle },
        // Where the application’s letters are not installed, others without serifs stand for them.
        'font-family': `${CHART_FONT}, 'Source Sans 3', sans-serif`,
        ...{ x, y, 'text-anchor': ANCHORS[this.textAlign] ?? 'start', 'dominant-baseline': BASELINES[this.textBaseline] ?? 'alphabetic' },
      },
      true,
    );
    element.textContent = text;
    this.__currentElement = element;
    this.__applyTransformation(element);
    this.__applyStyleToCurrentElement(action);
    parent.append(element);
  }

  override stroke(path?: unknown): void {
    if (path instanceof RecordedPath) path.drawOn(this as unknown as CanvasRenderingContext2D);
    super.stroke();
  }
}

/** A chart as an SVG document, on a ground, with its words for who does not see it. */
export function vectorsOf(chart: Chart, ground: string, words: string): string {
  const { width, height } = chart;
  const vectors = new VectorContext(width, height);
  const context = vectors as unknown as CanvasRenderingContext2D;
  context.fillStyle = ground;
  context.fillRect(0, 0, width, height);
  // The chart, each of its scales and each of its series keep the context that they draw on.
  const metas = chart.data.datasets.map((_, index) => chart.getDatasetMeta(index));
  const parts = [chart, ...Object.values(chart.scales)] as unknown as { ctx: CanvasRenderingContext2D }[];
  const series = metas.map(({ controller }) => controller as unknown as { _ctx: CanvasRenderingContext2D });
  const lines = metas.flatMap(({ dataset }) => (dataset ? [dataset as unknown as { _path?: unknown }] : []));
  const before = parts.map(({ ctx }) => ctx);
  const paths = globalThis as { Path2D: unknown };
  const { Path2D: own } = paths;
  try {
    paths.Path2D = RecordedPath;
    for (const line of lines) line._path = undefined;
    for (const part of parts) part.ctx = context;
    for (const one of series) one._ctx = context;
    chart.draw();
  } finally {
    paths.Path2D = own;
    for (const line of lines) line._path = undefined;
    parts.forEach((part, at) => (part.ctx = before[at]));
    for (const one of series) one._ctx = before[0];
  }
  const svg = vectors.getSvg();
  const title = document.createElementNS(svg.namespaceURI, 'title');
  title.textContent = words;
  svg.prepend(title);
  svg.setAttribute('role', 'img');
  return new XMLSerializer().serializeToString(svg);
}
