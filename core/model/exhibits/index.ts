import { z } from 'zod';
import { chartSchema, type Chart } from './chart.ts';
import { crosstabSchema, type Crosstab } from './crosstab.ts';
import { dividerSchema } from './divider.ts';
import { imageSchema } from './image.ts';
import { kpiStripSchema } from './kpi-strip.ts';
import { listSchema } from './list.ts';
import { textSchema } from './text.ts';
import { varianceSchema } from './variance.ts';

export * from './axis.ts';
export * from './chart.ts';
export * from './crosstab.ts';
export * from './divider.ts';
export * from './image.ts';
export * from './kpi-strip.ts';
export * from './list.ts';
export * from './text.ts';
export * from './variance.ts';

export const exhibitSchema = z.discriminatedUnion('kind', [
  kpiStripSchema,
  crosstabSchema,
  chartSchema,
  listSchema,
  varianceSchema,
  textSchema,
  imageSchema,
  dividerSchema,
]);
export type Exhibit = z.infer<typeof exhibitSchema>;
/** An exhibit that answers from data. */
export type DataExhibit = Extract<Exhibit, { filter: unknown }>;
export const isDataExhibit = (exhibit: Exhibit): exhibit is DataExhibit => 'filter' in exhibit;

/** An exhibit that answers in cells: a cross-tab, or a chart of one. */
export type CellExhibit = Crosstab | Chart;
export const isCellExhibit = (exhibit: Exhibit): exhibit is CellExhibit => 'cells' in exhibit;

/**
 * The cross-tab that a chart draws, with the same axes and measures; a cross-tab as it is. What a chart goes through period by
 * period stands open, so that each period shows its series.
 */
export function asCrosstab(exhibit: CellExhibit): Crosstab {
  if (exhibit.kind === 'crosstab') return exhibit;
  const { top, chart } = exhibit;
  const openLevels = chart.through ? Math.max(top.openLevels, Math.min(1, top.fields.length - 1)) : top.openLevels;
  return { ...exhibit, kind: 'crosstab', top: { ...top, openLevels } };
}
