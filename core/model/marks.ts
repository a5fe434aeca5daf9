import { z } from 'zod';
import { nameSchema } from './dataset.ts';

/** The figures that share a scale. */
export const markScaleSchema = z.enum(['column', 'row', 'table', 'siblings']);
export type MarkScale = z.infer<typeof markScaleSchema>;

/** A bar as long as the value, from zero, with a tick where its target is. */
export const barMarkSchema = z.object({
  kind: z.literal('bar'),
  scale: markScaleSchema.default('column'),
  target: nameSchema.optional(),
});

/** A ground that is darker the larger the value, or of two colours about a middle. */
export const shadeMarkSchema = z.object({
  kind: z.literal('shade'),
  scale: markScaleSchema.default('column'),
  colours: z.enum(['one', 'two']).default('one'),
  /** Where two colours meet. */
  middle: z.number().default(0),
});

/** An arrow by the change on the column, or the row, before. */
export const arrowMarkSchema = z.object({
  kind: z.literal('arrow'),
  along: z.enum(['columns', 'rows']).default('columns'),
  /** Changes below it are level: a share of the value before, or a difference where the measure is in percent. */
  threshold: z.number().min(0).max(1_000).default(0.02),
});

/** A small line, or small columns, of the value through the periods of a calendar level. */
export const sparklineMarkSchema = z.object({
  kind: z.literal('sparkline'),
  draw: z.enum(['line', 'columns']).default('line'),
  field: nameSchema,
  /** The last so many periods. */
  periods: z.number().int().min(2).max(60).default(24),
  scale: z.enum(['own', 'common']).default('own'),
  /** Whether the figure is written beside it. */
  figure: z.boolean().default(false),
});

export const ruleToneSchema = z.enum(['on', 'drift', 'off', 'sea', 'brass', 'quiet']);

/** A look for the cells in which a formula holds. Of several rules the first that holds counts. */
export const ruleMarkSchema = z.object({
  kind: z.literal('rule'),
  formula: z.string().min(1).max(2_000),
  label: z.string().max(80).default(''),
  tone: ruleToneSchema.default('off'),
  /** Of the figure, of what is behind it, or of its data bar. */
  look: z.enum(['text', 'ground', 'strong', 'bar']).default('text'),
});

/** What is drawn with the figure of a cell. */
export const markSchema = z.discriminatedUnion('kind', [
  barMarkSchema,
  shadeMarkSchema,
  arrowMarkSchema,
  sparklineMarkSchema,
  ruleMarkSchema,
]);
export type Mark = z.infer<typeof markSchema>;
export type MarkKindName = Mark['kind'];
export type MarkOf<Kind extends MarkKindName> = Extract<Mark, { kind: Kind }>;
