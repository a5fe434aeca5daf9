import { z } from 'zod';
import { indicatorSchema } from './comparison.ts';
import { nameSchema } from './dataset.ts';
import { numberFormatSchema } from './format.ts';

/** How sections are shown: below each other, one at a time as pages, or one at a time as tabs. */
export const SECTION_LAYOUTS = ['one-page', 'page-each', 'tab-each'] as const;
export const sectionLayoutSchema = z.enum(SECTION_LAYOUTS);
export type SectionLayout = z.infer<typeof sectionLayoutSchema>;

/** Whether the scales of charts are those of each section, or the same in all of them. */
export const sectionScalesSchema = z.enum(['own', 'common']);
export type SectionScales = z.infer<typeof sectionScalesSchema>;

/** What is repeated for each member of a level: a report, a page, or an exhibit. */
export const sectionsSchema = z.object({
  field: nameSchema,
  layout: sectionLayoutSchema.default('tab-each'),
  /** Whether readers may choose another layout. */
  readersChoose: z.boolean().default(true),
  /** Where all members together are a section of their own. */
  whole: z.enum(['none', 'first', 'last']).default('last'),
  /** What becomes of members without records. */
  empty: z.enum(['leave-out', 'say']).default('leave-out'),
  order: z
    .discriminatedUnion('by', [
      z.object({ by: z.literal('member'), direction: z.enum(['asc', 'desc']).default('asc') }),
      z.object({ by: z.literal('measure'), measure: nameSchema, direction: z.enum(['asc', 'desc']).default('desc') }),
    ])
    .default({ by: 'member', direction: 'asc' }),
  /** A figure shown with the name of each section, and its target. */
  figure: z.object({ measure: nameSchema, format: numberFormatSchema.optional(), indicator: indicatorSchema.optional() }).optional(),
  scales: sectionScalesSchema.default('own'),
});
export type Sections = z.infer<typeof sectionsSchema>;
export type SectionFigure = NonNullable<Sections['figure']>;
