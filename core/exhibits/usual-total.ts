import type { ListColumn } from '../model/index.ts';

/** Words of numbers that say how much of something one thing is, or where it is: a sum of these says nothing. Common practice, no source. */
const NOT_ADDED =
  /(^|[^\p{L}])(prices?|rates?|ratios?|shares?|percent(age)?|pct|margins? %|discounts? %|averages?|avg|mean|scores?|ratings?|grades?|temperatures?|latitudes?|longitudes?|lat|lon|lng|indexe?s?|per [\p{L}]+)($|[^\p{L}])|%/iu;

/** The total that a column of a field begins with: numbers are summed, unless their name says that they do not add up. */
export function usualTotal({ name, label, type }: { name: string; label: string; type: string }): ListColumn['total'] {
  const words = `${name.replaceAll('_', ' ').replaceAll(/([\p{Ll}])([\p{Lu}])/gu, '$1 $2')} ${label}`;
  return type === 'decimal' && !NOT_ADDED.test(words) ? 'sum' : undefined;
}
