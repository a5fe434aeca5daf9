import { describe, expect, it } from 'vitest';
import { usualTotal } from './usual-total.ts';

describe('the total that a column begins with', () => {
  const of = (name: string, label = name, type = 'decimal') => usualTotal({ name, label, type });
  it('is a sum of amounts, and none of prices, rates and places', () => {
    expect(['net_amount', 'Quantity', 'discount', 'cost', 'weight_kg', 'separate', 'operations'].map((name) => of(name))).toEqual(
      Array(7).fill('sum'),
    );
    expect(
      [
        'unit_price',
        'unitPrice',
        'Price',
        'tax_rate',
        'discount_pct',
        'Share',
        'latitude',
        'lon',
        'avg_age',
        'cost per unit',
        'rating',
      ].map((name) => of(name)),
    ).toEqual(Array(11).fill(undefined));
    expect(of('p', 'Discount %')).toBeUndefined();
    expect(of('orders', 'Orders', 'integer')).toBeUndefined();
    expect(of('city', 'City', 'text')).toBeUndefined();
  });
});
