import { z } from 'zod';
import { nameSchema } from './dataset.ts';
import { idSchema } from './ids.ts';

/**
 * A web address with values in braces: {country}, {value}, {measure}. Only http, https and mailto, and no value may stand where
 * it would decide which server is asked.
 */
export const webAddressSchema = z
  .string()
  .max(2_000)
  .regex(
    /^(?:https?:\/\/[^\s{}/?#@\\]+(?:[/?#][^\s\\]*)?|mailto:[^\s{}\\]+@[^\s{}?\\]+(?:\?[^\s\\]*)?)$/,
    'A web address begins with https://, http:// or mailto:, and its server is written out.',
  );

/** A link: to a report, to a page of it or of this report, to the records behind a number, or to a web address. */
export const exhibitLinkSchema = z.object({
  label: z.string().min(1).max(120),
  report: idSchema.optional(),
  page: idSchema.optional(),
  records: z.literal(true).optional(),
  address: webAddressSchema.optional(),
  /** In the place of this report, in a sheet beside it, or in a tab of its own. */
  opens: z.enum(['here', 'beside', 'tab']).optional(),
  /** Fields that are not carried along. */
  drop: z.array(nameSchema).max(60).optional(),
  /** Fields that go by another name there. */
  pairs: z.record(nameSchema, nameSchema).optional(),
});
export type ExhibitLink = z.infer<typeof exhibitLinkSchema>;

/** Where a link leads. */
export type LinkKind = 'report' | 'page' | 'records' | 'address';
export function linkKind({ report, page, records, address }: ExhibitLink): LinkKind | null {
  if (address !== undefined) return 'address';
  if (report !== undefined) return 'report';
  if (page !== undefined) return 'page';
  return records ? 'records' : null;
}

/** Where links of a cross-tab stand: at its figures, or at the labels of its rows or columns. */
export const LINK_PLACES = ['cells', 'labels', 'columns'] as const;
export type LinkPlace = (typeof LINK_PLACES)[number];

/** A link from the figures of a cross-tab, or from the labels of its rows or columns. The conditions of the place travel along. */
export const drillSchema = exhibitLinkSchema.extend({
  /** The measures whose figures it stands at; all where it is not said. */
  measures: z.array(nameSchema).optional(),
  from: z.enum(LINK_PLACES).optional(),
  /** The level whose labels it stands at; all where it is not said. */
  level: nameSchema.optional(),
});
export type Drill = z.infer<typeof drillSchema>;

/** Whether a link stands at the label of a row or a column, by the fields of that axis and the depth there. */
export const isAtLabel = ({ from, level }: Drill, axis: 'side' | 'top', fields: readonly string[], depth: number): boolean =>
  from === (axis === 'side' ? 'labels' : 'columns') && depth > 0 && (level === undefined || fields[depth - 1] === level);
/** Whether a link stands at the figures of a measure. */
export const isAtFigures = ({ from, measures }: Drill, measure: string): boolean =>
  (from === undefined || from === 'cells') && (!measures || measures.includes(measure));
