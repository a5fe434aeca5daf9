/** "a", "a and b", "a, b and c". */
export function listWords(items: readonly string[], joiner = 'and'): string {
  if (items.length < 2) return items.join('');
  return `${items.slice(0, -1).join(', ')} ${joiner} ${items.at(-1)}`;
}

/** A count with its noun: "1 order line", "8,114 order lines". */
export function countWords(count: number, noun: { one: string; many: string }, locale: string): string {
  return `${new Intl.NumberFormat(locale).format(count)} ${count === 1 ? noun.one : noun.many}`;
}

/** The same with a capital at its beginning. */
export const capitalised = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A physical name as a label: "order_date" to "Order date". */
export function labelOf(name: string): string {
  const words = name.replaceAll('_', ' ').trim();
  return capitalised(words);
}

/** A text as a part of a regular expression that matches it as it is. */
export const inPattern = (text: string): string => text.replaceAll(/[.*+?^${}()|[\]\\]/g, '\\$&');
