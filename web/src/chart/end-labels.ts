import type { Chart, ChartType, Plugin } from 'chart.js';
import { CHART_FONT } from '../theme/canvas-tokens.ts';

/** A name at the end of a line. */
export interface EndLabel {
  dataset: number;
  text: string;
  colour: string;
}

export interface EndLabelOptions {
  labels: readonly EndLabel[];
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
export const END_FONT = `600 ${SIZE}px ${CHART_FONT}`;

/** The room that names at the ends of lines take, in pixels. */
export function endLabelRoom(labels: readonly EndLabel[], measure: (text: string) => number): number {
  return labels.length === 0 ? 0 : Math.ceil(Math.max(...labels.map(({ text }) => measure(text)))) + GAP + 4;
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

/** Where the line of a dataset ends: its last point that has a value. */
function endOf(chart: Chart, dataset: number): { x: number; y: number } | null {
  const { data } = chart.getDatasetMeta(dataset);
  for (let index = data.length - 1; index >= 0; index--) {
    const { x, y } = data[index].getProps(['x', 'y'], true);
    if (Number.isFinite(x) && Number.isFinite(y)) return { x, y };
  }
  return null;
}

/** Names lines where they end, instead of in a box of colours. */
export const endLabels: Plugin = {
  id: 'endLabels',
  afterDatasetsDraw(chart, _args, options) {
    const { labels = [] } = options as Partial<EndLabelOptions>;
    const ends = labels
      .flatMap((label) => {
        const end = chart.isDatasetVisible(label.dataset) ? endOf(chart, label.dataset) : null;
        return end ? [{ ...label, ...end }] : [];
      })
      .sort((a, b) => a.y - b.y);
    const { ctx, chartArea } = chart;
    const places = apart(
      ends.map(({ y }) => y),
      chartArea.top,
      chartArea.bottom,
    );
    ctx.save();
    ctx.font = END_FONT;
    ctx.textBaseline = 'middle';
    ends.forEach(({ text, colour }, index) => {
      ctx.fillStyle = colour;
      ctx.fillText(text, chartArea.right + GAP, places[index]);
    });
    ctx.restore();
  },
};
