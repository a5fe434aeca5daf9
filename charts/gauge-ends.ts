import type { ArcElement, ChartType, Plugin } from 'chart.js';
import { CHART_FONT } from './tokens.ts';

/** Where a half circle begins and ends, in words; `colour` is theirs. */
interface GaugeEndsOptions {
  words: readonly [string, string];
  colour: string;
}

declare module 'chart.js' {
  // The name of the type parameter is the library's.
  interface PluginOptionsByType<TType extends ChartType> {
    gaugeEnds?: GaugeEndsOptions & { of?: TType };
  }
}

/** Room below the half circle for these words, in pixels. */
export const ENDS_HEIGHT = 20;

/** Writes where the half circle of a gauge begins and ends. */
export const gaugeEnds: Plugin = {
  id: 'gaugeEnds',
  afterDatasetsDraw(chart, _args, options) {
    const { words = [], colour } = options as Partial<GaugeEndsOptions>;
    const arc = words.length > 0 ? (chart.getDatasetMeta(chart.data.datasets.length - 1).data[0] as ArcElement | undefined) : undefined;
    if (!arc || !colour) return;
    const { x, y, innerRadius, outerRadius } = arc;
    const { ctx } = chart;
    ctx.save();
    ctx.font = `12.5px ${CHART_FONT}`;
    ctx.fillStyle = colour;
    ctx.textAlign = 'center';
    ctx.textBaseline = 'top';
    words.forEach((text, end) => ctx.fillText(text, x + (end === 0 ? -1 : 1) * ((innerRadius + outerRadius) / 2), y + 4));
    ctx.restore();
  },
};
