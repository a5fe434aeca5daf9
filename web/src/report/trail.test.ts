import { beforeEach, describe, expect, it } from 'vitest';
import { cutTrail, keepTrail, trailTo } from './trail.ts';

const step = (title: string) => ({ title, path: `/reports/${title}?year=2026` });

describe('the trail of a report', () => {
  beforeEach(() => ['a', 'b', 'c'].forEach((report) => cutTrail(report, 0)));

  it('is what led to the report before, and that report with its whole address', () => {
    keepTrail('b', 'a', step('a'));
    keepTrail('c', 'b', step('b'));
    expect(trailTo('c')).toEqual([step('a'), step('b')]);
    expect(trailTo('a')).toEqual([]);
  });
  it('ends where it was gone back to, and leaves the others as they were', () => {
    keepTrail('b', 'a', step('a'));
    keepTrail('c', 'b', step('b'));
    cutTrail('c', 1);
    expect(trailTo('c')).toEqual([step('a')]);
    expect(trailTo('b')).toEqual([step('a')]);
  });
  it('keeps the last steps of a long way round', () => {
    for (let round = 0; round < 20; round++) {
      keepTrail('b', 'a', step(`a${round}`));
      keepTrail('a', 'b', step(`b${round}`));
    }
    expect(trailTo('a')).toHaveLength(8);
    expect(trailTo('a').at(-1)).toEqual(step('b19'));
  });
});
