import type { Chart, Plugin, PointElement } from 'chart.js';
import { keepsPictures, newCanvas } from './surface.ts';

/** So many points are drawn once and kept as a picture: with each of them drawn anew, a pointer over them would lag behind. */
export const MANY = 1_500;

/** No label for any point: one that is only not displayed is laid out all the same. */
export const NO_LABELS = { labels: { none: null } };

/** What is drawn for the points of a dataset that has many, each by its place among them. */
export interface ManyPoints {
  fills: readonly string[];
  border: string;
}

interface Kept {
  canvas: HTMLCanvasElement;
  many: ManyPoints;
}

const pictures = new WeakMap<Chart, Map<number, Kept>>();

const LINE = 1;

/** A point of one colour and size, as a small picture that is then put down thousands of times. */
function stamp(fill: string, border: string, radius: number, ratio: number): HTMLCanvasElement {
  const canvas = newCanvas();
  const size = Math.ceil((2 * radius + 2 * LINE) * ratio);
  canvas.width = size;
  canvas.height = size;
  const context = canvas.getContext('2d')!;
  context.scale(ratio, ratio);
  context.beginPath();
  context.arc(size / ratio / 2, size / ratio / 2, radius, 0, 2 * Math.PI);
  context.fillStyle = fill;
  context.fill();
  context.strokeStyle = border;
  context.lineWidth = LINE;
  context.stroke();
  return canvas;
}

function pictureOf(chart: Chart, index: number, many: ManyPoints): HTMLCanvasElement {
  const ratio = chart.currentDevicePixelRatio;
  const canvas = newCanvas();
  canvas.width = chart.canvas.width;
  canvas.height = chart.canvas.height;
  const context = canvas.getContext('2d')!;
  const stamps = new Map<string, HTMLCanvasElement>();
  const data = chart.data.datasets[index].data as { r: number }[];
  chart.getDatasetMeta(index).data.forEach(({ x, y }, at) => {
    const { r } = data[at];
    if (!Number.isFinite(x) || !Number.isFinite(y) || r <= 0) return;
    // Sizes that nobody can tell apart share a picture.
    const key = `${many.fills[at]} ${Math.round(r * 4)}`;
    let own = stamps.get(key);
    if (!own) stamps.set(key, (own = stamp(many.fills[at], many.border, r, ratio)));
    context.drawImage(own, x * ratio - own.width / 2, y * ratio - own.height / 2);
  });
  return canvas;
}

/** Draws each point by itself. */
function drawEach(chart: Chart, index: number, { fills, border }: ManyPoints): void {
  const { ctx, data } = chart;
  const points = data.datasets[index].data as { r: number }[];
  ctx.save();
  ctx.strokeStyle = border;
  ctx.lineWidth = LINE;
  chart.getDatasetMeta(index).data.forEach(({ x, y }, at) => {
    const { r } = points[at];
    if (!Number.isFinite(x) || !Number.isFinite(y) || r <= 0) return;
    ctx.beginPath();
    ctx.arc(x, y, r, 0, 2 * Math.PI);
    ctx.fillStyle = fills[at];
    ctx.fill();
    ctx.stroke();
  });
  ctx.restore();
}

/** Draws datasets of many points, which say so by `many`, as a picture that is kept until the chart changes. */
export const manyPoints: Plugin = {
  id: 'manyPoints',
  afterUpdate: (chart) => void pictures.delete(chart),
  resize: (chart) => void pictures.delete(chart),
  beforeDatasetDraw(chart, { index }) {
    const { many } = chart.data.datasets[index] as { many?: ManyPoints };
    if (!many) return true;
    if (!keepsPictures()) {
      drawEach(chart, index, many);
      return false;
    }
    const own = pictures.get(chart) ?? new Map<number, Kept>();
    pictures.set(chart, own);
    let kept = own.get(index);
    if (kept?.many !== many) own.set(index, (kept = { canvas: pictureOf(chart, index, many), many }));
    const { ctx } = chart;
    ctx.save();
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.drawImage(kept.canvas, 0, 0);
    ctx.restore();
    // What is pointed at is drawn over it as usual.
    for (const { datasetIndex, element } of chart.getActiveElements())
      if (datasetIndex === index) (element as PointElement).draw(ctx, chart.chartArea);
    return false;
  },
};
