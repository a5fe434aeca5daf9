import type { List } from '@bold-compass/core/model';

export type ListOrder = List['order'];

/** The order that an address holds, as field and direction by turns; that of the list where it holds none it knows. */
export function orderIn(words: string[], { columns, order }: Pick<List, 'columns' | 'order'>): ListOrder {
  const asked = Array.from({ length: Math.floor(words.length / 2) }, (_, index) => ({
    field: words[index * 2],
    direction: words[index * 2 + 1] === 'desc' ? ('desc' as const) : ('asc' as const),
  })).filter(({ field }) => columns.some((column) => column.field === field));
  return asked.length > 0 ? asked : order;
}

/** An order as an address holds it. */
export const orderWords = (order: ListOrder): string[] => order.flatMap(({ field, direction }) => [field, direction]);

export const directionOf = (order: ListOrder, field: string | null): 'asc' | 'desc' | null =>
  order.find((one) => one.field === field)?.direction ?? null;

/** The order after a heading was chosen: by it alone, turned where it was so already; `added` leaves the others before it. */
export function orderedBy(order: ListOrder, field: string, added: boolean): ListOrder {
  const own = { field, direction: directionOf(order, field) === 'asc' ? ('desc' as const) : ('asc' as const) };
  return added ? [...order.filter((one) => one.field !== field), own] : [own];
}
