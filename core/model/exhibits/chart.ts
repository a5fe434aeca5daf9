import { z } from 'zod';
import { idSchema } from '../ids.ts';
import { cellExhibitShape } from './crosstab.ts';

export const CHART_KINDS = [
  'column',
  'bar',
  'line',
  'area',
  'step',
  'pie',
  'ring',
  'scatter',
  'bubble',
  'heat',
  'treemap',
  'waterfall',
  'pareto',
  'funnel',
  'box',
  'distribution',
  'map',
  'bullet',
  'gauge',
  'packed',
  'cloud',
] as const;
export const chartKindSchema = z.enum(CHART_KINDS);
export type ChartKindName = (typeof CHART_KINDS)[number];

/** How many colours there are for series. */
export const SERIES_COLOURS = 8;

/** How one series is drawn, where that is not as the chart says. */
export const seriesSettingsSchema = z.object({
  /** For charts along an axis: another kind than the chart's own. */
  as: z.enum(['column', 'line', 'area', 'step']).optional(),
  /** On the second axis, which has a scale of its own. */
  second: z.boolean().optional(),
  colour: z
    .number()
    .int()
    .min(0)
    .max(SERIES_COLOURS - 1)
    .optional(),
  dashed: z.boolean().optional(),
  hidden: z.boolean().optional(),
  /** Whether it is forecast where the chart is: it is where nothing is said. */
  forecast: z.boolean().optional(),
});
export type SeriesSettings = z.infer<typeof seriesSettingsSchema>;

/** The scale of an axis: by the data where nothing is said. */
export const chartScaleSchema = z.object({
  min: z.number().optional(),
  max: z.number().optional(),
  logarithmic: z.boolean().optional(),
});
export type ChartScale = z.infer<typeof chartScaleSchema>;

/** A line, or a band as far as `to`, drawn across a chart at a value. */
export const referenceLineSchema = z.object({
  at: z.union([z.number(), z.literal('average'), z.literal('median')]),
  to: z.number().optional(),
  label: z.string().max(60).default(''),
});
export type ReferenceLine = z.infer<typeof referenceLineSchema>;

export const trendSchema = z.object({
  kind: z.enum(['linear', 'logarithmic', 'exponential', 'power', 'polynomial', 'moving']),
  /** The degree of a polynomial, or how many points a moving average takes. */
  degree: z.number().int().min(2).max(24).optional(),
});
export type Trend = z.infer<typeof trendSchema>;

export const forecastSchema = z.object({
  /** Periods after the last one. */
  periods: z.number().int().min(1).max(60),
  /** How sure the interval is, in percent. */
  interval: z.union([z.literal(80), z.literal(90), z.literal(95)]).default(80),
});
export type Forecast = z.infer<typeof forecastSchema>;

export const chartSettingsSchema = z.object({
  kind: chartKindSchema,
  /** Several series: beside each other, on top of each other, or as parts of each whole. */
  arrangement: z.enum(['grouped', 'stacked', 'share']).default('grouped'),
  /** By the key of the series: its measure, its member, or both. */
  series: z.record(z.string().max(500), seriesSettingsSchema).default({}),
  /** Colours in the order of the series, by the member (the same in every chart), or by state of the indicator. */
  colours: z.enum(['order', 'member', 'state']).default('order'),
  scale: chartScaleSchema.default({}),
  second: chartScaleSchema.default({}),
  /** The value that the colours of a heat grid or a map turn at: on one side sea, on the other red. Zero where values lie on both sides of it. */
  middle: z.number().optional(),
  /** Where series are named: at themselves where there is room. */
  legend: z.enum(['auto', 'top', 'bottom', 'right', 'none']).default('auto'),
  /** Whether figures are written at what is drawn. */
  values: z.enum(['auto', 'always', 'never']).default('auto'),
  lines: z.array(referenceLineSchema).max(10).default([]),
  /** One chart for each member of the first field of the series, on common scales. */
  panels: z.boolean().default(false),
  /** The cross-tab whose axes, measures and conditions it draws, as they stand open there. */
  inStepWith: idSchema.optional(),
  trend: trendSchema.optional(),
  forecast: forecastSchema.optional(),
});
export type ChartSettings = z.infer<typeof chartSettingsSchema>;

/** A cross-tab that is drawn: `side` along the axis, `top` as series, `cells` the values. */
export const chartSchema = z.object({ ...cellExhibitShape, kind: z.literal('chart'), chart: chartSettingsSchema });
export type Chart = z.infer<typeof chartSchema>;

/** How the series of a measure, in a member, is told apart from the others of its chart. */
export const seriesName = (measure: string, member: string): string => (member === '' ? measure : `${measure} ${member}`);
