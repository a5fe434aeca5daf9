import { z } from 'zod';
import { filterSchema } from '../filter.ts';
import { idSchema } from '../ids.ts';
import { sectionsSchema } from '../sections.ts';

/** Where an exhibit stands: on which page, and how much of the twelve columns it takes. Exhibits follow each other in order. */
export const placed = {
  id: idSchema,
  /** The first page where it is not said. */
  page: idSchema.optional(),
  /** Columns of the grid of twelve. */
  width: z.number().int().min(2).max(12).default(12),
  /** Whether a page begins with it on paper. */
  startsPage: z.boolean().optional(),
  /** In pixels; as high as it needs to be where it is not said. */
  height: z.number().int().min(120).max(4_000).optional(),
};

/** What every exhibit that answers from data has. */
export const exhibitBase = {
  ...placed,
  /** May hold values: {scope}, {data as of}, {prompt …}, {measure …}. */
  title: z.string().min(1).max(200),
  /** Conditions of the exhibit itself, under the scope. */
  filter: filterSchema.nullable().default(null),
  /** Another dataset than the report's. */
  dataset: z.string().min(1).optional(),
  note: z.string().max(2_000).default(''),
  /** The cross-tab whose chosen member it follows. */
  follows: idSchema.optional(),
  /** Repeated for each member of a level, in its place on the page. */
  sections: sectionsSchema.optional(),
};
