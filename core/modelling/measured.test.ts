import { describe, expect, it } from 'vitest';
import { datasetSchema } from '../model/index.ts';
import { datasetFor, isMeasured, widened, type ColumnProfile, type NamedColumn } from './index.ts';

const profile = (low: number, high: number): ColumnProfile => ({ distinct: 0, low, high });

describe('numbers that are added up', () => {
  it.each([
    ['Order id', 'integer', undefined, false],
    ['customer_no', 'integer', undefined, false],
    ['Number', 'integer', undefined, true],
    ['Quantity', 'integer', profile(1, 40), true],
    ['Opened', 'integer', profile(1952, 2024), false],
    ['Pupils', 'integer', profile(0, 2100), true],
    ['Year', 'integer', undefined, false],
    ['Width', 'decimal', undefined, true],
    ['Idle minutes', 'integer', undefined, true],
    ['Shop', 'text', undefined, false],
  ] as const)('%s (%s)', (name, type, own, expected) => {
    expect(isMeasured(name, type, own)).toBe(expected);
  });

  it('a first report never offers the sum of a code or a year', () => {
    const columns: NamedColumn[] = [
      { column: 'order_id', name: 'Order id', type: 'integer', scale: 0, profile: profile(1, 900) },
      { column: 'built', name: 'Built', type: 'integer', scale: 0, profile: profile(1990, 2026) },
      { column: 'amount', name: 'Amount', type: 'decimal', scale: 2 },
    ];
    expect(datasetFor('x', 'X', 't', columns).measures.map(({ formula }) => formula)).toEqual(['count()', 'sum(amount)', 'avg(amount)']);
  });
});

it('fields are widened where their table is, and nowhere else', () => {
  const dataset = datasetSchema.parse(
    datasetFor('x', 'X', 't', [
      { column: 'amount', name: 'Amount', type: 'decimal', scale: 2 },
      { column: 'n', name: 'N', type: 'integer', scale: 0 },
    ]),
  );
  expect(widened(dataset, 't', new Map([['amount', 3]])).facts[0].fields.map(({ scale }) => scale)).toEqual([3, 0]);
  expect(widened(dataset, 't', new Map([['amount', 1]]))).toBe(dataset);
  expect(widened(dataset, 'other', new Map([['amount', 3]]))).toBe(dataset);
});
