import { periodLabel, periodRange } from '../calendar/index.ts';
import { listWords, type MemberLabel } from '../format/index.ts';
import { fieldPlace, type Dataset, type Scope } from '../model/index.ts';

/** As many members are named; of more, two and how many there are besides. */
const MOST_NAMED = 3;

/** Chosen periods as one stretch where they follow each other without a gap: "January to October". */
function stretch(dataset: Dataset, field: string, members: readonly string[], locale: string): string | null {
  const place = fieldPlace(dataset, field);
  if (place.kind !== 'period' || members.length < 2) return null;
  const sorted = [...members].sort();
  const ranges = sorted.map((member) => periodRange(place.level.period, member, place.dimension.yearStart));
  const unbroken = ranges.every((range, index) => range && (index === 0 || range.first === ranges[index - 1]!.last + 1));
  if (!unbroken) return null;
  const sameYear = sorted[0].slice(0, 4) === sorted.at(-1)!.slice(0, 4);
  return `${periodLabel(place.level.period, sorted[0], locale, sameYear)} to ${periodLabel(place.level.period, sorted.at(-1)!, locale, sameYear)}`;
}

/** The phrase of a field without a choice. Levels of a tree are of no kind of their own: it is all of the tree, or all below. */
export function everyPhrase(dataset: Dataset, field: string): string {
  const place = fieldPlace(dataset, field);
  if (place.kind !== 'level' || !place.dimension.tree) return `every ${place.label.toLowerCase()}`;
  return place.depth === 0 ? `the whole ${place.dimension.label.toLowerCase()}` : 'all below';
}

/** "Denmark", "Denmark and Finland", "Denmark, Finland and 2 more". */
export function namedWords(names: readonly string[], joiner = 'and'): string {
  if (names.length <= MOST_NAMED) return listWords(names, joiner);
  return listWords([...names.slice(0, MOST_NAMED - 1), `${names.length - MOST_NAMED + 1} more`]);
}

/** The fields of a prompt that the scope line shows: levels of a tree only as far down as something is chosen. */
export function shownFields(dataset: Dataset, fields: readonly string[], scope: Scope): string[] {
  const last = fields.findLastIndex((field) => (scope[field] ?? []).length > 0);
  return fields.filter((field, index) => {
    const place = fieldPlace(dataset, field);
    return index <= last + 1 || place.kind !== 'level' || !place.dimension.tree;
  });
}

/**
 * The phrase of a field in the scope line: "every region", "Sweden and Norway", "Denmark, Finland and 2 more". Where the year
 * stands before it (`underYear`), a period does not repeat it.
 */
export function scopePhrase(
  { dataset, label, locale }: { dataset: Dataset; label: MemberLabel; locale: string },
  field: string,
  members: readonly string[],
  underYear = true,
): string {
  if (members.length === 0) return everyPhrase(dataset, field);
  const run = stretch(dataset, field, members, locale);
  if (run) return run;
  const place = fieldPlace(dataset, field);
  // Months under their year need not repeat it.
  const sameYear =
    underYear && place.kind === 'period' && place.depth > 0 && new Set(members.map((member) => member.slice(0, 4))).size === 1;
  return namedWords(
    members.map((member) => (place.kind === 'period' ? periodLabel(place.level.period, member, locale, sameYear) : label(field, member))),
  );
}
