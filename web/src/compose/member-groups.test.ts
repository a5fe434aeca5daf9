import { describe, expect, it } from 'vitest';
import { withMemberIn, withNewGroup } from './member-groups.ts';

describe('groups of members', () => {
  it('are added under a name that is free, and stand in the place of their members', () => {
    const first = withNewGroup([], { label: 'Nordic and others', members: ['Nordic'] });
    const second = withNewGroup(first.groups, { label: 'x'.repeat(100), members: [] });
    expect(first.groups).toEqual([{ id: first.id, label: 'Nordic and others', members: ['Nordic'], instead: true }]);
    expect(second.groups).toHaveLength(2);
    expect(second.id).not.toBe(first.id);
    expect(second.groups[1].label).toHaveLength(80);
  });
  it('take a member once', () => {
    const { groups, id } = withNewGroup([], { label: 'A', members: ['Nordic'] });
    const more = withMemberIn(groups, id, 'Atlantic');
    expect(more[0].members).toEqual(['Nordic', 'Atlantic']);
    expect(withMemberIn(more, id, 'Atlantic')).toEqual(more);
    expect(withMemberIn(more, 'nothing', 'x')).toEqual(more);
  });
});
