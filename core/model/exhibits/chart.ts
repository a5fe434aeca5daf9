import { z } from 'zod';
import { shapesSourceSchema } from '../assets.ts';
import { nameSchema } from '../dataset.ts';
import { idSchema } from '../ids.ts';
import { naming } from '../named-members.ts';
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
  'days',
  'treemap',
  'waterfall',
  'pareto',
  'funnel',
  'flow',
  'box',
  'distribution',
  'map',
  'bullet',
  'dumbbell',
  'slope',
  'range',
  'diverging',
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

/** A line, or a band as far as `to`, drawn across a chart at a value; or the control limits of its values, with their average. */
export const referenceLineSchema = z.object({
  at: z.union([z.number(), z.literal('average'), z.literal('median'), z.literal('limits')]),
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
  /** Exponential smoothing, whose model an information criterion chooses, or regression on the number of the period. */
  method: z.enum(['smoothing', 'linear', 'logarithmic', 'exponential', 'power']).default('smoothing'),
});
export type Forecast = z.infer<typeof forecastSchema>;

/** Words at a point of a chart, whose paths stand as documents have them (`writtenPath`). */
export const pointNoteSchema = z.object({
  side: z.array(z.string().nullable()).max(10),
  top: z.array(z.string().nullable()).max(10),
  measure: nameSchema,
  text: z.string().min(1).max(200),
});
export type PointNote = z.infer<typeof pointNoteSchema>;

/** What a map is made of. */
export const mapSettingsSchema = z.object({
  /** Own shapes in the place of the countries of the world, and the property that names each of them. */
  shapes: z.object({ source: shapesSourceSchema, key: z.string().min(1).max(100) }).optional(),
  /** Members are points: the first two measures are their latitude and longitude, the third their size, the fourth their colour. */
  points: z.boolean().default(false),
  /** What shows the measures after the first one, or the members of the series: rings, columns as high as their values, or pies. */
  marks: z.enum(['rings', 'columns', 'pies']).default('rings'),
  /** Whether the tiles of the tile server are behind it, where one is set. */
  tiles: z.boolean().default(false),
});
export type MapSettings = z.infer<typeof mapSettingsSchema>;

export const CHART_STYLES = ['yearbook', 'bold', 'monochrome'] as const;

export const chartSettingsSchema = z.object({
  kind: chartKindSchema,
  /** Several series: beside each other, on top of each other, or as parts of each whole. */
  arrangement: z.enum(['grouped', 'stacked', 'share']).default('grouped'),
  /** By the key of the series: its measure, its member, or both. */
  series: naming('series', z.record(z.string().max(500), seriesSettingsSchema)).default({}),
  /** Colours in the order of the series, by the member (the same in every chart), or by state of the indicator. */
  colours: z.enum(['order', 'member', 'state']).default('order'),
  scale: chartScaleSchema.default({}),
  second: chartScaleSchema.default({}),
  /** The value that the colours of a heat grid or a map turn at: on one side sea, on the other red. Zero where values lie on both sides of it. */
  middle: z.number().optional(),
  /** How it looks: as the rest of the page, with strong lines and large letters, or in black and white with patterns. */
  style: z.enum(CHART_STYLES).default('yearbook'),
  /** Where series are named: at themselves where there is room. */
  legend: z.enum(['auto', 'top', 'bottom', 'right', 'none']).default('auto'),
  /** Whether figures are written at what is drawn. */
  values: z.enum(['auto', 'always', 'never']).default('auto'),
  lines: z.array(referenceLineSchema).max(10).default([]),
  notes: z.array(naming('point', pointNoteSchema)).max(20).default([]),
  /** The members of the first field of the series, usually periods, are shown one after the other, on common scales. */
  through: z
    .object({
      /** Whether what was there in the periods before is drawn too. */
      trails: z.boolean().default(true),
    })
    .optional(),
  /** One chart for each member of the first field of the series, on common scales. */
  panels: z.boolean().default(false),
  /** The cross-tab whose axes, measures and conditions it draws, as they stand open there. */
  inStepWith: idSchema.optional(),
  /** Periods without records along an axis of time: zero where that is certain, a gap, or left out. */
  emptyPeriods: z.enum(['zero', 'gap', 'hidden']).default('zero'),
  map: mapSettingsSchema.prefault({}),
  trend: trendSchema.optional(),
  forecast: forecastSchema.optional(),
});
export type ChartSettings = z.infer<typeof chartSettingsSchema>;

/** A cross-tab that is drawn: `side` along the axis, `top` as series, `cells` the values. */
export const chartSchema = z.object({ ...cellExhibitShape, kind: z.literal('chart'), chart: chartSettingsSchema });
export type Chart = z.infer<typeof chartSchema>;

/** How the series of a measure, in a member, is told apart from the others of its chart. */
export const seriesName = (measure: string, member: string): string => (member === '' ? measure : `${measure} ${member}`);
