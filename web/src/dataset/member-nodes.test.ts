import { describe, expect, it } from 'vitest';
import { memberBranches } from './member-nodes.ts';

describe('members as a tree', () => {
  it('stand below their parents, in their order; those without one at the top', () => {
    const node = (path: (string | null)[], rows = 1) => ({ path, label: path.at(-1) ?? 'None', rows });
    const [north, none] = memberBranches([node(['North', 'Sweden'], 2), node(['North', 'Norway']), node(['North'], 3), node([null])]);
    expect(north.children?.map(({ title, rows }) => [title, rows])).toEqual([
      ['Sweden', 2],
      ['Norway', 1],
    ]);
    expect([none.title, none.children]).toEqual(['None', undefined]);
  });
});
