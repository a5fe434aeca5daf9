import { z } from 'zod';
import { aggregatesOffered } from '../aggregates.ts';
import { indicatorSchema } from '../comparison.ts';
import { nameSchema } from '../dataset.ts';
import { numberFormatSchema } from '../format.ts';
import { exhibitLinkSchema } from '../links.ts';
import { exhibitBase } from './base.ts';

export const listAggregateSchema = z.enum(aggregatesOffered('lists'));

/** A column of a list: a field of the records, or a measure where records are put together in groups. */
export const listColumnSchema = z
  .object({
    field: nameSchema.optional(),
    measure: nameSchema.optional(),
    heading: z.string().max(60).optional(),
    /** Aggregate in headers and footers of groups and in the total line. */
    total: listAggregateSchema.optional(),
    format: numberFormatSchema.optional(),
    width: z.number().int().min(30).max(800).optional(),
    hidden: z.boolean().optional(),
    /** When its numbers are on course: against a number, against a measure of another column, hidden or not, or by themselves. */
    indicator: indicatorSchema.optional(),
    /** How a text is shown. */
    as: z.enum(['text', 'link', 'image']).optional(),
  })
  .refine(({ field, measure }) => (field === undefined) !== (measure === undefined), 'A column is of a field or of a measure');
export type ListColumn = z.infer<typeof listColumnSchema>;

/** How many columns a list has at most, and how many fields its records are grouped by. */
export const [MOST_LIST_COLUMNS, MOST_LIST_GROUPS] = [60, 6];

export const listSchema = z.object({
  ...exhibitBase,
  kind: z.literal('list'),
  fact: nameSchema,
  columns: z.array(listColumnSchema).min(1).max(MOST_LIST_COLUMNS),
  order: z.array(z.object({ field: nameSchema, direction: z.enum(['asc', 'desc']) })).default([]),
  /** Fields that records are put together by, from the outermost in. */
  groups: z
    .array(
      z.object({
        field: nameSchema,
        header: z.boolean().default(true),
        footer: z.boolean().default(true),
        /** Whether its header shows the totals too that its footer shows. */
        headerTotals: z.boolean().optional(),
      }),
    )
    .max(MOST_LIST_GROUPS)
    .default([]),
  /** Whether single records are shown, or only their groups. */
  detail: z.boolean().default(true),
  /** A group's words on each of its rows, or in its header only. */
  repeatLabels: z.boolean().default(false),
  /** What is shaded: every second record, or the lines of groups. */
  banding: z.enum(['rows', 'groups']).optional(),
  rowNumbers: z.boolean().default(false),
  /** Links of each record: what its columns say of dimensions travels along. */
  links: z.array(exhibitLinkSchema).max(10).optional(),
  /** Leaf through pages, or scroll through all. */
  paging: z.enum(['pages', 'scroll']).default('pages'),
});
export type List = z.infer<typeof listSchema>;
