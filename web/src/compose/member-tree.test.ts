import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chosenPart, memberTree, toggled } from './member-tree.ts';

const member = (label: string, ...under: string[][]) => ({ member: label, label, records: 1, ...(under.length > 0 ? { under } : {}) });
const CITIES = [
  member('Oslo', ['Nordic', 'Norway']),
  member('Bergen', ['Nordic', 'Norway']),
  member('Malmö', ['Nordic', 'Sweden']),
  member('Lyon', ['Atlantic', 'France']),
  // A city of one name in two countries.
  member('Valencia', ['Mediterranean', 'Spain'], ['Atlantic', 'Portugal']),
];
const drawn = (wanted = ''): string[] => memberTree(CITIES, wanted).map(({ label, depth }) => `${'  '.repeat(depth)}${label}`);
const line = (label: string) => memberTree(CITIES, '').find((one) => one.label === label)!;

describe('members as a tree', () => {
  it('stand below what they are under, each below each', () => {
    expect(drawn()).toEqual([
      ...['Nordic', '  Norway', '    Oslo', '    Bergen', '  Sweden', '    Malmö'],
      ...['Atlantic', '  France', '    Lyon', '  Portugal', '    Valencia'],
      ...['Mediterranean', '  Spain', '    Valencia'],
    ]);
    const keys = memberTree(CITIES, '').map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
  });
  it('are found by their own words or those of a branch', () => {
    expect(drawn('berg')).toEqual(['Nordic', '  Norway', '    Bergen']);
    expect(drawn('france')).toEqual(['Atlantic', '  France', '    Lyon']);
    expect(drawn('nowhere')).toEqual([]);
  });
  it('are a plain list where they stand under nothing', () => {
    expect(memberTree([member('Online'), member('Schools')], '').map(({ label, depth }) => [label, depth])).toEqual([
      ['Online', 0],
      ['Schools', 0],
    ]);
  });
  it('are chosen by branch: all, or none where all were', () => {
    const chosen = toggled(line('Norway'), ['Lyon', 'Oslo']);
    expect([...chosen].sort()).toEqual(['Bergen', 'Lyon', 'Oslo']);
    expect(chosenPart(line('Nordic'), new Set(chosen))).toBe('some');
    expect(chosenPart(line('France'), new Set(chosen))).toBe('all');
    expect(toggled(line('Norway'), chosen)).toEqual(['Lyon']);
  });
  it('come back as they were when a line that was all chosen, or not at all, is chosen twice', () => {
    const lines = memberTree(CITIES, '');
    fc.assert(
      fc.property(fc.nat(lines.length - 1), fc.subarray(CITIES.map(({ member: name }) => name)), (at, chosen) => {
        const part = chosenPart(lines[at], new Set(chosen));
        const twice = toggled(lines[at], toggled(lines[at], chosen));
        const own = new Set(lines[at].members);
        const expected = part === 'some' ? chosen.filter((one) => !own.has(one)) : chosen;
        expect([...twice].sort()).toEqual([...expected].sort());
      }),
      { seed: 6 },
    );
  });
});
