import { z } from 'zod';

/** Sizes of paper. */
export const PAPER_NAMES = ['a4', 'a3', 'letter', 'slide'] as const;
export const paperNameSchema = z.enum(PAPER_NAMES);
export type PaperName = z.infer<typeof paperNameSchema>;

/** How rows of cross-tabs are opened on paper: as on the screen, to a level by its label, or wholly. */
export const expandedToSchema = z.discriminatedUnion('to', [
  z.object({ to: z.literal('screen') }),
  z.object({ to: z.literal('level'), label: z.string().min(1).max(80) }),
  z.object({ to: z.literal('all') }),
]);
export type ExpandedTo = z.infer<typeof expandedToSchema>;

/** What a report looks like on paper. */
export const pageSetupSchema = z.object({
  size: paperNameSchema.default('a4'),
  orientation: z.enum(['portrait', 'landscape']).default('landscape'),
  margins: z.enum(['narrow', 'normal', 'wide']).default('normal'),
  /** Where tables go on that are wider than a page: to the right first, downwards first, or nowhere, in smaller letters. */
  wide: z.enum(['across', 'down', 'shrink']).default('down'),
  /** Whether a group that fits on a page is not divided. */
  keepGroups: z.boolean().default(true),
  expandedTo: expandedToSchema.default({ to: 'screen' }),
  /** Whether the title stands at the head of further pages. */
  title: z.boolean().default(true),
  scope: z.enum(['first', 'every', 'none']).default('first'),
  dataAsOf: z.boolean().default(true),
  pageNumber: z.enum(['of', 'plain', 'none']).default('of'),
  /** Texts at head and foot. May hold values: {page}, {pages}, {scope}, {data as of}, {measure …}. */
  head: z.string().max(200).default(''),
  foot: z.string().max(200).default(''),
});
export type PageSetup = z.infer<typeof pageSetupSchema>;
