import { describe, expect, it } from 'vitest';
import type { Header } from '../api/index.ts';
import { headLevels, headSegments, measureSpans } from './column-headings.ts';

const header = (path: string[], role: Header['role'] = 'member'): Header => ({
  path,
  labels: path,
  role,
  depth: path.length,
  open: role === 'subtotal',
  canOpen: true,
});

describe('headings over columns', () => {
  const columns = [
    header(['2025']),
    header(['2026', 'Q1', 'January']),
    header(['2026', 'Q1'], 'subtotal'),
    header(['2026', 'Q2']),
    header(['2026'], 'subtotal'),
    header([], 'total'),
  ];

  it('span the columns below them, level by level; a subtotal is a column of its own', () => {
    expect(headLevels(columns)).toBe(3);
    expect(headSegments(columns).map(({ level, start, count, own, key }) => [level, start, count, own, key])).toEqual([
      [1, 0, 1, true, '2025|member'],
      [1, 1, 4, false, '2026'],
      [1, 5, 1, true, '|total'],
      [2, 1, 2, false, '2026/Q1'],
      [2, 3, 1, true, '2026/Q2|member'],
      [2, 4, 1, true, '2026|subtotal'],
      [3, 1, 1, true, '2026/Q1/January|member'],
      [3, 2, 1, true, '2026/Q1|subtotal'],
    ]);
  });

  it('are cut where columns have not been fetched', () => {
    expect(headSegments([header(['2026', 'Q1']), undefined, header(['2026', 'Q3'])]).filter(({ level }) => level === 1)).toHaveLength(2);
    expect(headLevels([undefined, undefined])).toBe(1);
  });
});

it('headings over measures stand over all that follow each other with the same words', () => {
  const over = (...words: string[]): unknown[] => measureSpans(words.map((spanning) => ({ spanning }))).map((one) => Object.values(one));
  expect(over('Sales', 'Sales', '', 'Sales', 'Target', 'Target')).toEqual([
    ['Sales', 0, 2],
    ['Sales', 3, 1],
    ['Target', 4, 2],
  ]);
  expect(over('', '')).toEqual([]);
});
