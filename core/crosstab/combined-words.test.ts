import { expect, it } from 'vitest';
import { workedDataset } from '../testing/worked-example.ts';
import { combinedWords, groupKey, OTHERS } from './index.ts';
import { classKey } from './plan.ts';

const GROUP = { id: 'north', label: 'The north', members: ['Sweden'], instead: true };

it('what stands for several members is called by its words, and a member by none of these', () => {
  const say = (member: string | null): string | undefined => combinedWords(workedDataset, 'country', { groups: [GROUP] }, member);
  expect(say(OTHERS)).toBe('All other countries');
  expect(say(groupKey(GROUP))).toBe('The north');
  expect([say(classKey(0)), say(classKey(2))]).toEqual(['Class A', 'Class C']);
  for (const member of ['Sweden', 'All other countries', '', null]) expect(say(member)).toBeUndefined();
  // A group that is gone has no words.
  expect(combinedWords(workedDataset, 'country', undefined, groupKey(GROUP))).toBeUndefined();
});
