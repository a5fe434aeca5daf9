import { compareText } from '../engine/index.ts';
import { conditionWords, naturalOrderOf, plainMemberLabel, type MemberLabel } from '../format/index.ts';
import { fieldPlace, fieldsOf, type Dataset, type Filter, type Report } from '../model/index.ts';
import type { DataDays } from '../prompts/index.ts';
import type { AnswerData } from './data.ts';
import type { TableCache } from './table-cache.ts';

/** The days that there is data for. */
export const dataDays = ({ calendar: { first, days } }: Pick<AnswerData, 'calendar'>): DataDays => ({
  first,
  last: first + Math.max(days, 1) - 1,
});

/** What answers are calculated from, and in whose language. */
export interface AnswerContext {
  dataset: Dataset;
  data: AnswerData;
  /** Tables that were put together before. */
  tables: TableCache;
  locale: string;
  /** Another report as the reader would open it, to know what a link into it finds; null where they may not. */
  report(id: string): Promise<Report | null>;
  /** Another dataset as far as its names go; null where there is none, or it is not theirs to see. */
  datasetOf?(name: string): Promise<Dataset | null>;
}

/** The words for members of some fields. */
export async function labelsFor({ dataset, data, locale }: AnswerContext, fields: readonly string[]): Promise<MemberLabel> {
  const labels = new Map(await Promise.all([...new Set(fields)].map(async (field) => [field, await data.labels(field)] as const)));
  const plain = plainMemberLabel(dataset, locale);
  return (field, member) => (member === null ? undefined : labels.get(field)?.get(member)) ?? plain(field, member);
}

/** A condition in words, a sentence for each part that must hold. */
export async function conditionsInWords(context: AnswerContext, filter: Filter | null): Promise<string[]> {
  return [...new Set(conditionWords(context.dataset, filter, await labelsFor(context, fieldsOf(filter))))];
}

/** How two members of a field compare. */
export type CompareMembers = (a: string | null, b: string | null) => number;

const missingLast = (a: string | null, b: string | null): number => Number(a === null) - Number(b === null);

/** Order by the places of another field; members without a place come last. */
function byPlaces(places: ReadonlyMap<string, number>): CompareMembers {
  return (a, b) => (a === null || b === null ? missingLast(a, b) : (places.get(a) ?? Infinity) - (places.get(b) ?? Infinity) || 0);
}

/** The natural order of a field's members, with keys where comparing these is enough. */
interface FieldOrder {
  compare: CompareMembers;
  key(member: string | null): string | null;
}

/**
 * The natural order of a field's members: periods by time, levels by the field they follow, texts as the locale sorts their
 * labels; missing members last.
 */
export async function naturalOrder(context: AnswerContext, field: string): Promise<FieldOrder> {
  const place = fieldPlace(context.dataset, field);
  // The keys of periods are in the order of time.
  if (place.kind === 'period')
    return { compare: (a, b) => (a === null || b === null ? missingLast(a, b) : compareText(a, b)), key: (member) => member };
  const places = place.kind === 'level' && place.level.orderBy ? await context.data.order(field, place.level.orderBy) : null;
  if (places) {
    const compare = byPlaces(places);
    return { compare: (a, b) => compare(a, b) || (a === null || b === null ? 0 : compareText(a, b)), key: () => null };
  }
  const label = await labelsFor(context, [field]);
  const { compare, key } = naturalOrderOf(context.locale);
  return {
    compare: (a, b) => (a === null || b === null ? missingLast(a, b) : compare(label(field, a), label(field, b)) || compareText(a, b)),
    key: (member) => (member === null ? null : key(label(field, member))),
  };
}

/** Order of a level's members by another field of their dimension; all alike where that says nothing of them. */
export async function orderByField({ data }: AnswerContext, field: string, by: string): Promise<CompareMembers> {
  const places = await data.order(field, by);
  return places ? byPlaces(places) : missingLast;
}
