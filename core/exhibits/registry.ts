import type { Exhibit } from '../model/index.ts';
import { chartKind } from './chart.ts';
import { crosstabKind } from './crosstab.ts';
import { dividerKind } from './divider.ts';
import { imageKind } from './image.ts';
import type { ExhibitKind } from './kind.ts';
import { kpiStripKind } from './kpi-strip.ts';
import { listKind } from './list.ts';
import { textKind } from './text.ts';
import { varianceKind } from './variance.ts';

/** Every kind of exhibit, in the order in which they are offered. */
export const EXHIBIT_KINDS: { [Kind in Exhibit['kind']]: ExhibitKind<Extract<Exhibit, { kind: Kind }>> } = {
  crosstab: crosstabKind,
  chart: chartKind,
  list: listKind,
  kpis: kpiStripKind,
  variance: varianceKind,
  text: textKind,
  image: imageKind,
  divider: dividerKind,
};

export const isExhibitKind = (kind: string): kind is Exhibit['kind'] => Object.hasOwn(EXHIBIT_KINDS, kind);

/** What an exhibit is an instance of. */
export const kindOf = (exhibit: Exhibit): ExhibitKind<Exhibit> => EXHIBIT_KINDS[exhibit.kind] as unknown as ExhibitKind<Exhibit>;
