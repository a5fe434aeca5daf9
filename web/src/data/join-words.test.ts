import { describe, expect, it } from 'vitest';
import { joinWords } from './join-words.ts';

const join = { table: 'shop.people', of: 'shop.sales', key: 'id' };

describe('what the data says of a join', () => {
  it('is fine where each is there once, and told where some are missing', () => {
    expect(joinWords({ named: 1_200, missing: 0, doubled: 0, examples: [] }, join)).toEqual({
      refused: false,
      words: 'Many to one; each of the 1,200 that are named is there.',
    });
    const { refused, words } = joinWords({ named: 1_200, missing: 7, doubled: 0, examples: [] }, join);
    expect([refused, words]).toEqual([
      false,
      'Many to one. 7 of 1,200 rows name one that is not there: they stay, with nothing of shop.people.',
    ]);
  });
  it('refuses what would count records more than once, with the reason and a way on', () => {
    const { refused, words } = joinWords({ named: 10, missing: 1, doubled: 1, examples: ['7'] }, join);
    expect(refused).toBe(true);
    expect(words).toContain('1 value of id stands in several rows of shop.people (7)');
    expect(words).toContain('Start from shop.people, or choose a column that each row has once.');
  });
});
