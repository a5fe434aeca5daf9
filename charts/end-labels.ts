import type { Chart, ChartType, Plugin } from 'chart.js';
import { newCanvas } from './surface.ts';
import { CHART_FONT } from './tokens.ts';

/** A name at the end of a line. */
export interface EndLabel {
  dataset: number;
  text: string;
  colour: string;
  /** Where the line begins, or ends: at the right where nothing is said. */
  side?: 'left' | 'right';
}

interface EndLabelOptions {
  labels: readonly EndLabel[];
  /** How far from the lines they stand, in pixels: room for a thin line to names that had to move. */
  gap?: number;
}

declare module 'chart.js' {
  // The name of the type parameter is the library's.
  interface PluginOptionsByType<TType extends ChartType> {
    endLabels?: EndLabelOptions & { of?: TType };
  }
}

const SIZE = 12.5;
const LINE = 16;
const GAP = 8;
/** From so much room on, in pixels, thin lines lead to names that do not stand at their own. */
const LEADER = 16;
const END_FONT = `600 ${SIZE}px ${CHART_FONT}`;

let canvas: CanvasRenderingContext2D | null | undefined;
/** How wide a name at the end of a line is, in pixels; any text, in another font. */
export function endWidth(text: string, font = END_FONT): number {
  canvas ??= newCanvas().getContext('2d');
  if (!canvas) return text.length * 7;
  canvas.font = font;
  return canvas.measureText(text).width;
}

/** The room that names at the ends of lines take, in pixels. */
export function endLabelRoom(labels: readonly EndLabel[], measure: (text: string) => number, gap = GAP): number {
  return labels.length === 0 ? 0 : Math.ceil(Math.max(...labels.map(({ text }) => measure(text)))) + gap + 4;
}

/** Places in order, each at least a line below the one before, as near to where they want to be as that allows. */
export function apart(wanted: readonly number[], top: number, bottom: number): number[] {
  const placed: number[] = [];
  wanted.forEach((at, index) => placed.push(Math.max(at, index === 0 ? top : placed[index - 1] + LINE)));
  let limit = bottom;
  for (let index = placed.length - 1; index >= 0; index--) {
    placed[index] = Math.min(placed[index], limit);
    limit = placed[index] - LINE;
  }
  return placed;
}

/** Where the line of a dataset ends, or begins: its last point that has a value, or its first. */
function endOf(chart: Chart, { dataset, side }: EndLabel): { x: number; y: number } | null {
  const points = chart.getDatasetMeta(dataset).data.map((point) => point.getProps(['x', 'y'], true) as { x: number; y: number });
  const isThere = ({ x, y }: { x: number; y: number }): boolean => Number.isFinite(x) && Number.isFinite(y);
  return (side === 'left' ? points.find(isThere) : points.findLast(isThere)) ?? null;
}

/** Names lines where they end, instead of in a box of colours. */
export const endLabels: Plugin = {
  id: 'endLabels',
  afterDatasetsDraw(chart, _args, options) {
    const { labels = [], gap = GAP } = options as Partial<EndLabelOptions>;
    const { ctx, chartArea } = chart;
    ctx.save();
    ctx.font = END_FONT;
    ctx.textBaseline = 'middle';
    for (const side of ['left', 'right'] as const) {
      const ends = labels
        .filter((label) => (label.side ?? 'right') === side && chart.isDatasetVisible(label.dataset))
        .flatMap((label) => {
          const end = endOf(chart, label);
          return end ? [{ ...label, ...end }] : [];
        })
        .sort((a, b) => a.y - b.y);
      const places = apart(
        ends.map(({ y }) => y),
        chartArea.top,
        chartArea.bottom,
      );
      ctx.textAlign = side === 'left' ? 'right' : 'left';
      const [edge, away] = side === 'left' ? [chartArea.left, -1] : [chartArea.right, 1];
      ends.forEach(({ text, colour, y }, index) => {
        ctx.fillStyle = colour;
        ctx.fillText(text, edge + away * gap, places[index]);
        if (gap < LEADER || Math.abs(places[index] - y) < 3) return;
        ctx.strokeStyle = colour;
        ctx.lineWidth = 0.6;
        ctx.beginPath();
        ctx.moveTo(edge + away * 6, y);
        ctx.lineTo(edge + away * (gap - 3), places[index]);
        ctx.stroke();
      });
    }
    ctx.restore();
  },
};
