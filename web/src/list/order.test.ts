import { listSchema } from '@bold-compass/core/model';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { orderedBy, orderIn, orderWords, type ListOrder } from './order.ts';

const list = listSchema.parse({
  ...{ kind: 'list', id: 'orders', title: 'Orders', fact: 'orders' },
  columns: [{ field: 'country' }, { field: 'city' }, { field: 'net' }, { measure: 'net_sales' }],
  order: [{ field: 'country', direction: 'desc' }],
});

describe('the order of a list', () => {
  it('is the address, else the list; what is no column of it is passed over', () => {
    expect(orderIn(['city', 'desc', 'net', 'asc'], list)).toEqual([
      { field: 'city', direction: 'desc' },
      { field: 'net', direction: 'asc' },
    ]);
    expect(orderIn(['elsewhere', 'desc'], list)).toEqual(list.order);
    expect(orderIn(['city'], list)).toEqual(list.order);
    expect(orderIn(['city', 'upwards'], list)).toEqual([{ field: 'city', direction: 'asc' }]);
  });

  it('is turned by choosing a heading again, and added to with a modifier', () => {
    let order: ListOrder = orderedBy([], 'city', false);
    expect(order).toEqual([{ field: 'city', direction: 'asc' }]);
    order = orderedBy(order, 'city', false);
    expect(order).toEqual([{ field: 'city', direction: 'desc' }]);
    order = orderedBy(order, 'net', true);
    expect(order.map(({ field }) => field)).toEqual(['city', 'net']);
    expect(orderedBy(order, 'country', false)).toEqual([{ field: 'country', direction: 'asc' }]);
  });

  it('goes to the address and back', () => {
    const field = fc.constantFrom('country', 'city', 'net');
    const direction = fc.constantFrom('asc' as const, 'desc' as const);
    fc.assert(
      fc.property(fc.uniqueArray(fc.record({ field, direction }), { selector: (one) => one.field, minLength: 1 }), (order) => {
        expect(orderIn(orderWords(order), list)).toEqual(order);
      }),
      { seed: 3 },
    );
  });
});
