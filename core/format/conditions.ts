import { periodLabel } from '../calendar/index.ts';
import { fieldLabel, fieldPlace, type Dataset, type Filter, type Literal } from '../model/index.ts';
import { listWords } from './words.ts';

/** The words for a member of a field. */
export type MemberLabel = (field: string, member: string | null) => string;

const COMPARISONS = { eq: 'is', ne: 'is not', lt: 'is below', le: 'is at most', gt: 'is above', ge: 'is at least' } as const;
const MOST_NAMED = 5;

/** The words for a member where the dataset's definition alone tells them: periods, and members that are their own label. */
export function plainMemberLabel(dataset: Dataset, locale: string): MemberLabel {
  return (field, member) => {
    const place = fieldPlace(dataset, field);
    // Below a member of a tree, what has no member there is the member's own; at its top there is nobody whose it could be.
    if (member === null && place.kind === 'level' && place.dimension.tree && place.depth > 0) return 'Own';
    if (member === null) return `No ${fieldLabel(dataset, field).toLowerCase()}`;
    return place.kind === 'period' ? periodLabel(place.level.period, member, locale) : member;
  };
}

/** A filter in plain sentences, one for each condition that must hold: "Country is Sweden". */
export function conditionWords(dataset: Dataset, filter: Filter | null, label: MemberLabel): string[] {
  if (!filter) return [];
  if ('items' in filter) {
    if (filter.op === 'and') return filter.items.flatMap((item) => conditionWords(dataset, item, label));
    return [filter.items.map((item) => conditionWords(dataset, item, label).join(' and ')).join(' or ') || 'Nothing you may see'];
  }
  if (filter.op === 'not') return [`Not: ${conditionWords(dataset, filter.item, label).join(' and ')}`];
  const name = fieldLabel(dataset, filter.field);
  const words = (literal: Literal): string => label(filter.field, String(literal));
  switch (filter.op) {
    case 'in':
    case 'notIn': {
      const is = filter.op === 'in' ? 'is' : 'is not';
      if (filter.values.length === 0) return filter.op === 'in' ? [`${name} is none of those you see`] : [];
      const named = filter.values.slice(0, MOST_NAMED).map(words);
      const more = filter.values.length - named.length;
      return [`${name} ${is} ${listWords(more > 0 ? [...named, `${more} more`] : named, more > 0 ? 'and' : 'or')}`];
    }
    case 'between':
      return [`${name} from ${words(filter.low)} to ${words(filter.high)}`];
    case 'like':
      return [`${name} is like “${filter.value}”`];
    case 'contains':
    case 'includes':
      return [`${name} contains “${filter.value}”`];
    case 'startsWith':
      return [`${name} starts with “${filter.value}”`];
    case 'empty':
      return [`${name} is missing`];
    case 'notEmpty':
      return [`${name} is not missing`];
    default:
      return [`${name} ${COMPARISONS[filter.op]} ${words(filter.value)}`];
  }
}
