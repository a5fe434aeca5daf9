import { z } from 'zod';
import { crosstabSchema } from './crosstab.ts';
import { dividerSchema } from './divider.ts';
import { imageSchema } from './image.ts';
import { kpiStripSchema } from './kpi-strip.ts';
import { listSchema } from './list.ts';
import { textSchema } from './text.ts';

export * from './axis.ts';
export * from './crosstab.ts';
export * from './divider.ts';
export * from './image.ts';
export * from './kpi-strip.ts';
export * from './list.ts';
export * from './text.ts';

export const exhibitSchema = z.discriminatedUnion('kind', [
  kpiStripSchema,
  crosstabSchema,
  listSchema,
  textSchema,
  imageSchema,
  dividerSchema,
]);
export type Exhibit = z.infer<typeof exhibitSchema>;
/** An exhibit that answers from data. */
export type DataExhibit = Extract<Exhibit, { filter: unknown }>;
export const isDataExhibit = (exhibit: Exhibit): exhibit is DataExhibit => 'filter' in exhibit;
