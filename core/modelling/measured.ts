import type { ColumnType } from '../model/index.ts';
import { nameFor } from './names.ts';

/** What the records of a column say beside its type. */
export interface ColumnProfile {
  /** Different values; counted only as far as it matters. */
  distinct: number;
  /** Smallest and largest number; null for other columns. */
  low: number | null;
  high: number | null;
}

/** Words at the end of a name that say that the number tells records apart (common practice, no source). */
const CODE_NAMES =
  /(^|_)(id|ids|key|code|codes|nr|uuid|zip|postcode|phone|sku|ean|isbn|year|yr|month|week|weekday|quarter)$|_(no|num|number)$/;

/** Whether it means anything to add up the numbers of a column: nobody wants the sum of identifiers, codes or years. */
export function isMeasured(name: string, type: ColumnType, profile: ColumnProfile | undefined): boolean {
  if (type !== 'integer' && type !== 'decimal') return false;
  if (CODE_NAMES.test(nameFor(name, new Set()))) return false;
  if (type === 'decimal' || !profile || profile.low === null || profile.high === null) return true;
  // Whole numbers that are all years of this age.
  return !(profile.low >= 1900 && profile.high <= 2100);
}
